import fs from 'node:fs';
import path from 'node:path';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { BuildRow, ModRow, models } from '@/db';
import { openNew } from '@/platform/node/folder-writer';
import { makeFolders } from '@/platform/node/make-folders';
import { SafeFolders } from '@/platform/node/safe-folders';
import { PART } from '@/platform/node/written-folder';
import { buildFile, type BuildReport } from './build-files';
import { summaryFiles } from './build-summary';
import { hashFile } from './hash-file';
import { copyFlushed } from '../installing/placing';
import type { JobContext } from '../running/job-context';
import { checkOutputFolder } from '../recipes/output-folder';
import { notFound, UserError } from '@/platform/user-error';

interface Output {
  /** Path in the game folder, or beside it. */
  readonly name: string;
  readonly file: string;
  readonly sha256: string | undefined;
}

async function outputsOf(gameId: number, buildId: number): Promise<{ title: string; outputs: Output[] }> {
  models();
  const row = await BuildRow.findByPk(buildId);
  const mod = row && (await ModRow.findOne({ where: { id: row.modId, gameId } }));
  if (!row || !mod) throw notFound('The build');
  if (!row.holds) throw new UserError(409, 'The proof of this build does not hold, so it is not given out.');
  const { archives } = row.report as BuildReport;
  return {
    title: mod.title,
    outputs: [
      ...archives.map(({ archive, sha256 }) => ({
        ...{ name: archive, sha256 },
        file: buildFile(buildId, archive),
      })),
      ...summaryFiles(buildId).map(({ name, file }) => ({ name, file, sha256: undefined })),
    ],
  };
}

/** Writes the files of a build into a folder instead of the game, under the paths that they have there. What stands there is kept. */
export async function writeBuild(
  gameId: number,
  buildId: number,
  folder: string,
  job: JobContext,
): Promise<{ folder: string; files: number; detail: string }> {
  const { outputs } = await outputsOf(gameId, buildId);
  const root = await checkOutputFolder(folder);
  const standing = outputs.find(({ name, sha256 }) => {
    const place = path.join(root, name);
    const stat = fs.lstatSync(place, { throwIfNoEntry: false });
    // A link is somebody's own, whatever it leads to.
    return stat && (!stat.isFile() || sha256 === undefined || hashFile(place) !== sha256);
  });
  if (standing)
    throw new UserError(
      409,
      `${standing.name} is in ${root} already and is another file. Choose an empty folder, or move it away.`,
    );
  makeFolders(root);
  const folders = new SafeFolders(fs.realpathSync(root));
  for (const [i, { name, file, sha256 }] of outputs.entries()) {
    job.check();
    job.progress(i, outputs.length, 'items', name);
    const place = path.join(root, name);
    folders.make(path.dirname(place));
    const part = `${place}${PART}`;
    // Never into what a link of this name leads to.
    fs.closeSync(openNew(part));
    copyFlushed(file, part);
    if (sha256 !== undefined && hashFile(part) !== sha256) {
      fs.rmSync(part, { force: true });
      throw new UserError(409, `${name} does not read back as it should. Check the disk and build again.`);
    }
    fs.renameSync(part, place);
  }
  return { folder: root, files: outputs.length, detail: `${outputs.length} files written to ${root}` };
}

/** The files of a build as a ZIP, stored as they are, since archives hardly get smaller. */
export async function zipOfBuild(
  gameId: number,
  buildId: number,
): Promise<{ stream: Readable; title: string }> {
  const { title, outputs } = await outputsOf(gameId, buildId);
  const zip = new yazl.ZipFile();
  const stream = zip.outputStream as Readable;
  zip.on('error', (error) => void stream.destroy(error as Error));
  for (const { name, file } of outputs) zip.addFile(file, name, { compress: false });
  zip.end();
  return { stream, title };
}
