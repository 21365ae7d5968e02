import { limitedTo } from '@/core/fitting/limits';
import { usualSeries } from '@/core/fitting/stock';

/** A browser's storage with something in it. */
async function openedWith(kept: unknown) {
  const values = new Map(
    kept === undefined
      ? []
      : [['fair-voicing sheet choices', JSON.stringify({ state: kept, version: 0 })]],
  );
  const localStorage = {
    getItem: (key: string) => values.get(key) ?? null,
    setItem: (key: string, value: string) => values.set(key, value),
    removeItem: (key: string) => values.delete(key),
  };
  Object.assign(globalThis, { window: { localStorage } });
  jest.resetModules();
  const { useSheetChoices } = await import('./sheetChoices');
  return { choices: useSheetChoices, values };
}

test('begins with the usual, and keeps what is chosen for the next visit', async () => {
  const { choices, values } = await openedWith(undefined);
  expect(choices.getState()).toMatchObject({ series: usualSeries, limits: limitedTo(12) });
  const limits = { ...limitedTo(9), mostOutlay: 80 };
  choices.getState().set({ limits, isOfStock: true });
  const kept = JSON.parse(values.get('fair-voicing sheet choices')!) as { state: object };
  expect(kept.state).toEqual({ series: usualSeries, limits, isOfStock: true });
  const again = await openedWith(kept.state);
  expect(again.choices.getState()).toMatchObject({ limits, isOfStock: true });
  const older = await openedWith({ series: usualSeries, limits: { ...limits, stock: undefined } });
  expect(older.choices.getState()).toMatchObject({ limits, isOfStock: false });
});

test.each([
  ['another version', { limits: { mostParts: 9 } }],
  ['a negative price', { series: usualSeries, limits: { ...limitedTo(9), mostOutlay: -5 } }],
  ['no object', 'x'],
])('what is left there by %s is not taken', async (_, kept) => {
  const { choices } = await openedWith(kept);
  expect(choices.getState().limits).toEqual(limitedTo(12));
});
