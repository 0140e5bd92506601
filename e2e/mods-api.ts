import { expect, type Game, type Server } from './fixtures';

/** Makes a mod without the screens, with new contents for some paths. */
export async function modOf(
  server: Server,
  game: Game,
  title: string,
  contents: Readonly<Record<string, string | Buffer>>,
): Promise<number> {
  const { id } = (await (
    await server.api.post(`/api/games/${game.id}/mods`, { data: { title } })
  ).json()) as {
    id: number;
  };
  for (const [path, content] of Object.entries(contents)) await change(server, game, id, path, content);
  return id;
}

/** Puts something in the place of the entry that the game sees under a path. */
export async function change(
  server: Server,
  game: Game,
  modId: number,
  path: string,
  content: string | Buffer,
): Promise<void> {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const found = (await (
    await server.api.get(`/api/games/${game.id}/entries?search=${encodeURIComponent(name)}`)
  ).json()) as { rows: { path: string; archiveId: number; index: number; wins: boolean }[] };
  const entry = found.rows.find((one) => one.path === path && one.wins);
  expect(entry, path).toBeDefined();
  const slot = new URLSearchParams({ archive: `${entry!.archiveId}`, index: `${entry!.index}`, name });
  const answer = await server.api.put(`/api/games/${game.id}/mods/${modId}/changes?${slot}`, {
    data: Buffer.from(content),
  });
  expect(answer.status(), await answer.text()).toBe(200);
}

/** Asks for a job and gives it once it has ended. */
export async function job(
  server: Server,
  game: Game,
  data: Record<string, unknown>,
): Promise<{ state: string; error: string | null; result: Record<string, unknown> | null }> {
  const answer = await server.api.post(`/api/games/${game.id}/jobs`, { data });
  const { id } = (await answer.json()) as { id: string };
  await server.settled(game.id);
  return (await server.jobs(game.id)).find((one) => one.id === id)!;
}
