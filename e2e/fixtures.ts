import {
  test as base,
  expect,
  request,
  type APIRequestContext,
  type BrowserContext,
  type Page,
} from '@playwright/test';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { closePages, forget, withProfile } from './shared-context';

export const ADDRESS = process.env.ZERO_LATCH_ADDRESS ?? 'http://127.0.0.1:4400';
/** What a command shows in place of the cookie that a browser gets with the printed address. */
export const TOOL = {
  origin: ADDRESS,
  authorization: `Bearer ${process.env.ZERO_LATCH_TOOL_SECRET ?? ''}`,
};
export const DEMO = process.env.ZERO_LATCH_DEMO ?? path.resolve('.data/demo');

/** The key as it stands on the help card, spaces and all. */
export const helpCardKey = (): string =>
  fs.readFileSync(path.join(DEMO, 'lanternfen-help-card.txt'), 'utf8').trim().split('\n').pop()!;

export const helpCardBytes = (): Buffer => Buffer.from(helpCardKey().replaceAll(' ', ''), 'hex');

export interface Game {
  readonly id: number;
  readonly title: string;
  readonly folder: string;
}

/** Hash of every file of a folder with its name, so that two folders can be told to be the same. */
export function folderHash(folder: string): string {
  const hash = createHash('sha256');
  const visit = (inner: string): void => {
    for (const name of fs.readdirSync(path.join(folder, inner)).sort()) {
      const relative = path.join(inner, name);
      if (fs.statSync(path.join(folder, relative)).isDirectory()) visit(relative);
      else hash.update(relative).update(fs.readFileSync(path.join(folder, relative)));
    }
  };
  visit('');
  return hash.digest('hex');
}

interface Job {
  id: string;
  kind: string;
  gameId: number;
  state: string;
  error: string | null;
  result: Record<string, unknown> | null;
}

export class Server {
  constructor(readonly api: APIRequestContext) {}

  async jobs(gameId: number): Promise<Job[]> {
    return (await (await this.api.get(`/api/jobs?game=${gameId}`)).json()) as Job[];
  }

  /** Waits until no job of the game waits or runs. */
  async settled(gameId: number): Promise<Job[]> {
    let jobs: Job[] = [];
    await expect
      .poll(
        async () => {
          jobs = await this.jobs(gameId);
          return jobs.length > 0 && jobs.every(({ state }) => !['waiting', 'running'].includes(state));
        },
        { timeout: 120_000, intervals: [100] },
      )
      .toBe(true);
    return jobs;
  }

  async addGame(folder: string, title: string): Promise<Game> {
    const answer = await this.api.post('/api/games', { data: { title, folder } });
    expect(answer.status(), await answer.text()).toBe(200);
    const game = (await answer.json()) as Game;
    await this.settled(game.id);
    return { ...game, folder };
  }

  async unlock(game: Game): Promise<void> {
    await this.api.post(`/api/games/${game.id}/keys`, { data: { text: helpCardKey(), label: 'help card' } });
    await this.settled(game.id);
  }
}

interface Fixtures {
  server: Server;
  /** A copy of Lanternfen of the test's own, scanned and locked. */
  lanternfen: Game;
  /** A place for files of the test. */
  scratch: string;
}

interface Shared {
  shared: BrowserContext;
}

let count = 0;

export const test = base.extend<Fixtures, Shared>({
  shared: [
    async ({}, use, { project }) => {
      const { launchOptions, storageState, actionTimeout, viewport, baseURL, contextOptions } = project.use;
      await withProfile(
        {
          ...launchOptions,
          ...contextOptions,
          ...(viewport && { viewport }),
          ...(baseURL !== undefined && { baseURL }),
        },
        async (context) => {
          if (typeof storageState === 'object') await context.addCookies(storageState.cookies);
          context.setDefaultTimeout(actionTimeout ?? 0);
          await use(context);
        },
      );
    },
    { scope: 'worker' },
  ],

  context: async ({ shared }, use) => {
    await forget(shared, new URL(ADDRESS).origin);
    await use(shared);
    // The next test may have no page.
    await closePages(shared);
  },

  page: async ({ context }, use) => use(await context.newPage()),

  server: async ({}, use) => {
    const api = await request.newContext({
      baseURL: ADDRESS,
      // A connection that rested may be closed by the server in the moment it is used again.
      extraHTTPHeaders: { ...TOOL, connection: 'close' },
    });
    await use(new Server(api));
    await api.dispose();
  },

  scratch: async ({}, use) => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-e2e-'));
    await use(folder);
    fs.rmSync(folder, { recursive: true, force: true });
  },
  lanternfen: async ({ server, scratch }, use) => {
    const folder = path.join(scratch, 'lanternfen');
    fs.cpSync(path.join(DEMO, 'lanternfen'), folder, { recursive: true });
    const game = await server.addGame(folder, `Lanternfen copy ${process.pid}-${++count}`);
    await use(game);
    await server.api.delete(`/api/games/${game.id}`);
  },
});

export { expect };

export const filesBelow = (folder: string): string[] =>
  fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.startsWith('.'))
    .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)))
    .sort();

/** Opens an entry on the Contents screen by searching for it, as a user would. */
export async function openEntry(page: Page, gameId: number, search: string, name = search): Promise<void> {
  await page.goto(`/games/${gameId}/contents?${new URLSearchParams({ search })}`);
  await page.locator('[data-entry]').filter({ hasText: name }).first().click();
  await expect(page.getByLabel('Inspector').getByText(name, { exact: true }).first()).toBeVisible();
}

/** The sound that is shown was heard: it stands further on than at its beginning, also once it is over. */
export async function expectHeard(page: Page): Promise<void> {
  await expect(page.getByText(/^(?!0:00\.00)\d+:\d\d\.\d\d of \d+:\d\d\.\d\d$/)).toBeVisible();
}
