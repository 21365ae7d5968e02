import type { Netlist, Resistor } from '@/core/network/netlist';
import { emptyDriver, endAt, plainWay, type Way } from '@/core/document/schema';
import { driverCandidates, likelyDrivers } from './netlistDrivers';

const resistor = (name: string): Resistor => ({ kind: 'resistor', name, a: 'x', b: '0', ohms: 8 });
const netlist = (...names: string[]): Netlist => ({
  elements: names.map(resistor),
  couplings: [],
});
const drivers = [emptyDriver('bass', 'Woofer'), emptyDriver('dome', 'Soft Dome')];
const way = (id: string, name: string, ...driverIds: string[]): Way => ({
  ...plainWay,
  id,
  name,
  ends: driverIds.map(endAt),
});
const found = (list: Netlist, ways: readonly Way[]) =>
  Object.fromEntries(likelyDrivers(list, { drivers, ways: [...ways] }));

test('neither losses of coils nor the amplifier represent a driver', () => {
  const names = driverCandidates(netlist('r1', 'r_loss_of_l1', 'r_amplifier_output', 'woofer')).map(
    ({ name }) => name,
  );
  expect(names).toEqual(['r1', 'woofer']);
});

test('a driver is found by its way, by its number there, or by its own name', () => {
  const ways = [way('way-1', 'Lows', 'bass'), way('way-2', 'Highs', 'dome')];
  expect(found(netlist('r_driver_1_of_way_1', 'r_driver_1_of_way_2'), ways)).toEqual({
    bass: 'r_driver_1_of_way_1',
    dome: 'r_driver_1_of_way_2',
  });
  expect(found(netlist('r_driver_1_of_way_highs', 'r_driver_1_of_way_lows'), ways)).toEqual({
    bass: 'r_driver_1_of_way_lows',
    dome: 'r_driver_1_of_way_highs',
  });
  expect(found(netlist('r_soft_dome', 'r7'), [])).toEqual({ dome: 'r_soft_dome' });
  const shared = [way('way-1', 'All', 'bass', 'dome')];
  expect(found(netlist('r_driver_2_of_way_1', 'r_driver_1_of_way_1'), shared)).toEqual({
    bass: 'r_driver_1_of_way_1',
    dome: 'r_driver_2_of_way_1',
  });
});

test('no element represents two drivers', () => {
  const twins = [emptyDriver('a', 'Woofer'), emptyDriver('b', 'Woofer')];
  const told = likelyDrivers(netlist('r_woofer'), { drivers: twins, ways: [] });
  expect([...told]).toEqual([['a', 'r_woofer']]);
});
