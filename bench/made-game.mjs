import { chromium } from '@playwright/test';
import path from 'node:path';
import { enter } from '../bin/lib/enter.mjs';

/** Registers a folder with an application that runs, waits until it is scanned, and opens a page that is let in. `call` asks the interface. */
export async function madeGame(printed, folder, title) {
  const { address, headers } = await enter(printed);
  const call = async (way, body) => {
    const answer = await fetch(`${address}/api/${way}`, {
      method: body ? 'POST' : 'GET',
      headers: { ...headers, ...(body && { 'content-type': 'application/json' }) },
      ...(body && { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(await answer.text());
    return answer.json();
  };
  const game = await call('games', { title: `${title} ${process.pid}`, folder: path.resolve(folder) });
  for (;;) {
    const jobs = await call(`jobs?game=${game.id}`);
    if (jobs.length > 0 && jobs.every(({ state }) => !['waiting', 'running'].includes(state))) break;
    await new Promise((done) => setTimeout(done, 200));
  }
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(printed);
  return { address, call, game, browser, page };
}
