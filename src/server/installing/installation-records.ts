import { z } from 'zod';
import { BuildRow, GameRow, InstallationRow, models } from '@/db';
import { activeRow, type InstalledFile } from './installations';
import type { Journal } from './placing';

const hash = z.string().nullable();
const InstalledFiles = z.array(
  z.object({
    ...{ path: z.string(), before: hash, after: hash },
    made: z.string().optional(),
    found: z.string().optional(),
  }),
);
const Mods = z.array(z.object({ id: z.number(), title: z.string() }));

/** What the journal of an operation holds for the records that are written of it. */
const About = z.discriminatedUnion('does', [
  z.object({
    does: z.literal('install'),
    gameId: z.number(),
    buildId: z.number().nullable(),
    title: z.string(),
    files: InstalledFiles,
    mods: Mods,
  }),
  z.object({
    does: z.literal('restore'),
    gameId: z.number(),
    installationId: z.number(),
    files: InstalledFiles,
  }),
]);
export type OperationAbout = z.infer<typeof About>;

/**
 * Writes what was done to a game's folder into the records, in one transaction and once only: it is begun again after a kill, or when
 * the database comes back. Gives the number of the installation; undefined where nothing is installed after it.
 */
export async function recordOperation(journal: Journal): Promise<number | undefined> {
  const parsed = About.safeParse(journal.about);
  const about = parsed.success ? parsed.data : await aboutOfOlder(journal);
  if (!about) return undefined;
  return models().transaction(async () => {
    // The lock of the row: two who write the same record do so one after the other.
    if (!(await GameRow.findByPk(about.gameId, { lock: true }))) return undefined;
    return about.does === 'install' ? recordInstall(journal, about) : recordRestore(about);
  });
}

async function recordInstall(
  { id: operation, files: placed }: Journal,
  about: Extract<OperationAbout, { does: 'install' }>,
): Promise<number> {
  const known = await InstallationRow.findOne({ where: { operation } });
  if (known) return known.id;
  const { gameId, title, mods, files } = about;
  const made = new Map(placed.map((file) => [file.path, file.made]));
  await InstallationRow.update(
    { state: 'replaced', endedAt: new Date() },
    { where: { gameId, state: 'installed' } },
  );
  const build = about.buildId === null ? null : await BuildRow.findByPk(about.buildId);
  const row = await InstallationRow.create({
    ...{ gameId, title, mods, operation },
    buildId: build?.id ?? null,
    state: 'installed',
    files: files.map((file) => {
      const folder = made.get(file.path);
      return folder === undefined ? file : { ...file, made: folder };
    }),
  });
  return row.id;
}

async function recordRestore(about: Extract<OperationAbout, { does: 'restore' }>): Promise<undefined> {
  await InstallationRow.update(
    { state: 'restored', endedAt: new Date(), files: about.files },
    { where: { id: about.installationId, state: 'installed' } },
  );
}

/** Of a journal that an earlier version has left, whose records follow from the files alone. */
async function aboutOfOlder({ folder, files, title, about }: Journal): Promise<OperationAbout | undefined> {
  models();
  const game = await GameRow.findOne({ where: { folder } });
  if (!game) return undefined;
  const active = await activeRow(game.id);
  const had = new Map(((active?.files ?? []) as InstalledFile[]).map((file) => [file.path, file]));
  const now = files
    .map(({ path, before, after }) => ({ path, before: had.get(path)?.before ?? before, after }))
    .filter(({ before, after }) => before !== after);
  const gameId = game.id;
  if (now.length > 0) {
    const mods = Mods.safeParse(about).data ?? [];
    const named = title.replace(/^Install /, '');
    return { does: 'install', gameId, buildId: null, title: named, files: now, mods };
  }
  return active
    ? { does: 'restore', gameId, installationId: active.id, files: active.files as InstalledFile[] }
    : undefined;
}
