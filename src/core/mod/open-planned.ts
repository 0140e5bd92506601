import { openArchive, type Archive, type OpenOptions } from '../archive';
import type { BuildPlan } from './plan';
import { planSource } from './plan-source';

/** Opens what a plan would give, without writing it. */
export function openPlanned(plan: BuildPlan, options: OpenOptions): Archive {
  const { archive, files } = plan;
  return openArchive(archive.script, planSource(files[0]!, archive.source.name), {
    ...options,
    companion(fileName, name, number) {
      const found = files.find(({ file }) => file.type?.name === name && file.number === number);
      return found ? planSource(found, fileName) : options.companion?.(fileName, name, number);
    },
  });
}

/** Opens an archive once more, from where it was read. */
export function reopened(archive: Archive, options: OpenOptions): Archive {
  return openArchive(archive.script, archive.source, {
    ...options,
    companion: (fileName, name, number) =>
      archive.files.find(({ type, number: own }) => type?.name === name && own === number)?.space.source ??
      options.companion?.(fileName, name, number),
  });
}
