import { chromium, type BrowserContext } from '@playwright/test';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

type Options = NonNullable<Parameters<typeof chromium.launchPersistentContext>[1]>;

/**
 * A browser with a profile, as people have: what it read and compiled of the pages once it need not again. One for all tests of a process,
 * since for most of them a new browser took longer than what they do in it.
 */
export async function withProfile(
  options: Options,
  use: (context: BrowserContext) => Promise<void>,
): Promise<void> {
  const profile = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-profile-'));
  const context = await chromium.launchPersistentContext(profile, options);
  try {
    await use(context);
  } finally {
    await context.close();
    fs.rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  }
}

/** Closes all pages but the empty first, without which the browser would end: nothing plays or asks on. */
export async function closePages(context: BrowserContext): Promise<void> {
  await Promise.all(
    context
      .pages()
      .slice(1)
      .map((page) => page.close()),
  );
}

/** Forgets what pages remembered and were allowed; what was read and compiled stays. */
export async function forget(context: BrowserContext, origin: string): Promise<void> {
  await closePages(context);
  const session = await context.newCDPSession(context.pages()[0]!);
  await session.send('Storage.clearDataForOrigin', {
    origin,
    storageTypes: 'local_storage,indexeddb,service_workers,cache_storage,file_systems',
  });
  await session.detach();
  await context.clearPermissions();
}
