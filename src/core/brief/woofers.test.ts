import { emptyDriver, type Driver } from '@/core/document/schema';
import { wooferOf, woofersOf } from './woofers';

const driver = (id: string, sdCm2: number | null): Driver => {
  const empty = emptyDriver(id, id);
  return { ...empty, sheet: { ...empty.sheet, sdCm2 } };
};
const names = (drivers: Driver[]) => woofersOf({ drivers }).map(({ id }) => id);

test('the largest cone is the woofer, and all that are as large', () => {
  expect(names([driver('dome', 7), driver('a', 335), driver('mid', 90), driver('b', 335)])).toEqual(
    ['a', 'b'],
  );
  expect(wooferOf({ drivers: [driver('mid', 90), driver('a', 335)] })!.id).toBe('a');
});

test('who states no area is none, however it is called', () => {
  expect(names([driver('woofer', null), driver('mid', 90)])).toEqual(['mid']);
  expect(names([driver('woofer', null)])).toEqual([]);
  expect(wooferOf({ drivers: [driver('woofer', null)] })).toBeNull();
});

test('without drivers there is none', () => {
  expect(names([])).toEqual([]);
  expect(wooferOf({ drivers: [] })).toBeNull();
});

test('one alone is the woofer, a tweeter too', () =>
  expect(names([driver('dome', 7)])).toEqual(['dome']));
