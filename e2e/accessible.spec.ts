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
  'film',
  'desk',
  'read?row=0',
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
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const made = await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Axe' } });
  expect(made.ok()).toBe(true);
  const archives = (await (await server.api.get(`/api/games/${lanternfen.id}/archives`)).json()) as {
    id: number;
    path: string;
  }[];
  const spool = archives.find(({ path }) => path.endsWith('opening.spool'))!.id;
  const forms = archives.find(({ path }) => path.endsWith('h06-forms.hold'))!.id;
  const wrong: string[] = [];
  for (const view of [
    ...VIEWS.map((name) => `/games/${lanternfen.id}/${name}`),
    '/',
    `/games/${lanternfen.id}/film?film=${spool}`,
    `/games/${lanternfen.id}/model?entry=${forms}:0`,
    '/activity',
    '/scripts',
    '/docs/one-tree',
  ]) {
    await page.emulateMedia({ colorScheme: 'light' });
    await page.goto(view);
    await expect(page.getByRole('main')).toBeVisible();
    await page.waitForLoadState('networkidle');
    // Colours change at once, so that none is measured on its way.
    await page.addStyleTag({ content: '* { transition: none !important }' });
    if (view.endsWith('contents')) await page.locator('[data-entry]').first().click();
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme });
      const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
      // In the dark nothing is other than the colours.
      const { violations } = await (colorScheme === 'dark' ? axe.withRules('color-contrast') : axe).analyze();
      for (const { id, impact, nodes } of violations) {
        if (impact !== 'serious' && impact !== 'critical') continue;
        const own = await Promise.all(
          nodes.map(({ target }) => isScrolledByTree(page, id, String(target[0]))),
        );
        const left = nodes.filter((_, k) => !own[k]);
        if (left.length > 0)
          wrong.push(
            `${colorScheme} ${view}: ${id}, ${left.length} times, such as ${left[0]!.html.slice(0, 160)}`,
          );
      }
    }
  }
  expect(wrong).toEqual([]);
});
