import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test } from './fixtures';

/** Every main view by the rules of axe, light and dark: nothing that keeps somebody from using it. */
const VIEWS = [
  'folder',
  'locks',
  'contents',
  'contents?kind=picture',
  'changes',
  'build',
  'installed',
  'trial',
  'recipes',
];

/** What scrolls inside a tree is scrolled by the arrow keys of the tree, which has the focus; axe looks for it inside. */
async function isScrolledByTree(page: Page, rule: string, target: string): Promise<boolean> {
  if (rule !== 'scrollable-region-focusable') return false;
  return page.locator(target).evaluate((found) => {
    const tree = found.closest('[role=tree]');
    return tree instanceof HTMLElement && tree.tabIndex === 0;
  });
}

test('no view has a serious fault for those who use keys or hear the screen', async ({
  browser,
  baseURL,
  server,
  lanternfen,
}) => {
  test.setTimeout(240_000);
  await server.unlock(lanternfen);
  const made = await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Axe' } });
  expect(made.ok()).toBe(true);
  const wrong: string[] = [];
  for (const colorScheme of ['light', 'dark'] as const) {
    const context = await browser.newContext({ colorScheme, ...(baseURL && { baseURL }) });
    const page = await context.newPage();
    for (const view of [
      ...VIEWS.map((name) => `/games/${lanternfen.id}/${name}`),
      '/',
      '/activity',
      '/scripts',
      '/docs/one-tree',
    ]) {
      await page.goto(view);
      await expect(page.getByRole('main')).toBeVisible();
      await page.waitForLoadState('networkidle');
      if (view.endsWith('contents')) await page.locator('[data-entry]').first().click();
      const { violations } = await new AxeBuilder({ page }).analyze();
      for (const { id, impact, nodes } of violations) {
        if (impact !== 'serious' && impact !== 'critical') continue;
        const own = await Promise.all(
          nodes.map(({ target }) => isScrolledByTree(page, id, String(target[0]))),
        );
        const left = nodes.filter((_, i) => !own[i]);
        if (left.length > 0)
          wrong.push(
            `${colorScheme} ${view}: ${id}, ${left.length} times, such as ${left[0]!.html.slice(0, 160)}`,
          );
      }
    }
    await context.close();
  }
  expect(wrong).toEqual([]);
});
