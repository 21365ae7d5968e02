import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/**
 * axe finds nothing.
 *
 * @param looked `all` of the page, only its `colours`, which are all that another table changes, or
 *   only the `panel` that was just laid out in a page that was looked through before
 */
export async function expectAccessible(
  page: Page,
  looked: 'all' | 'colours' | 'panel' = 'all',
): Promise<void> {
  const whole = new AxeBuilder({ page });
  const builder = {
    all: () => whole,
    colours: () => whole.withRules(['color-contrast']),
    panel: () => whole.include('[role="tabpanel"]'),
  }[looked]();
  const { violations } = await builder.analyze();
  expect(
    violations.map(
      ({ id, nodes }) => `${id}: ${nodes.map((node) => node.html.slice(0, 120)).join(' | ')}`,
    ),
  ).toEqual([]);
}
