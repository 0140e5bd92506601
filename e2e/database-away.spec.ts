import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from './fixtures';

const data = process.env.ZERO_LATCH_TEST_DATA;

/** Stops or starts the cluster of this test run, as a crash of the database would. */
function cluster(action: 'stop' | 'start'): void {
  const code = `import { startCluster } from './bin/lib/cluster.mjs'; const c = await startCluster(process.argv[1]); if (process.argv[2] === 'stop') c.stop();`;
  const result = spawnSync(
    process.execPath,
    ['--input-type=module', '-e', code, path.resolve(data!), action],
    { encoding: 'utf8' },
  );
  expect(result.status, result.stderr).toBe(0);
}

test('a database that goes away is said on the page, which goes on by itself once it is back', async ({
  page,
  lanternfen,
}) => {
  test.skip(!process.env.ZERO_LATCH_CLUSTER, 'the database is not ours to stop');
  await page.goto(`/games/${lanternfen.id}/contents`);
  await expect(page.getByRole('option').first()).toBeVisible();
  cluster('stop');
  try {
    await expect(
      page
        .getByRole('alert')
        .getByText(/The database does not answer. Nothing is lost/)
        .first(),
    ).toBeVisible();
    await page.getByLabel('Search the contents').fill('ferry');
    await expect(page.getByText(/The database does not answer. Nothing was lost/).first()).toBeVisible({
      timeout: 30_000,
    });
  } finally {
    cluster('start');
  }
  await expect(page.getByRole('alert').getByText(/Nothing is lost/)).toHaveCount(0, { timeout: 30_000 });
  await page.getByLabel('Search the contents').fill('credits');
  await expect(page.getByRole('option').filter({ hasText: 'credits.txt' })).toBeVisible({ timeout: 30_000 });
});

test('jobs run again after the database was away', async ({ server, lanternfen }) => {
  await expect
    .poll(async () => {
      const answer = await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
      return answer.status();
    })
    .toBe(200);
  const jobs = await server.settled(lanternfen.id);
  expect(jobs[0]).toMatchObject({ kind: 'scan', state: 'done' });
});
