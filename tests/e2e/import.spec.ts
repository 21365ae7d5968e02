/**
 * A folder of files as another program wrote them, to a fitted two-way in few presses. All data are
 * made up.
 */
import { expect, test, type Page } from '@playwright/test';
import { expectSaved, stored } from './desk';

type Complex = readonly [re: number, im: number];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => {
  const square = c * c + d * d;
  return [(a * c + b * d) / square, (b * c - a * d) / square];
};
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];

/** s²/(s² + s·ω/Q + ω²) and its low-pass twin, at a frequency over the corner. */
const highPass = (x: number, q: number): Complex => over([-x * x, 0], [1 - x * x, x / q]);
const lowPass = (x: number, q: number): Complex => over([1, 0], [1 - x * x, x / q]);

interface Made {
  readonly name: string;
  readonly radiusM: number;
  readonly response: (hz: number) => Complex;
  readonly levelDb: number;
  readonly fsHz: number;
}

const made: readonly Made[] = [
  {
    name: 'dome',
    radiusM: 0.0125,
    levelDb: 90,
    fsHz: 900,
    response: (hz) => times(highPass(hz / 900, 0.8), lowPass(hz / 24_000, 0.7)),
  },
  {
    name: 'midwoofer',
    radiusM: 0.065,
    levelDb: 86,
    fsHz: 45,
    response: (hz) => times(highPass(hz / 55, 0.7), lowPass(hz / 4500, 0.8)),
  },
];
const comma = (value: number, digits = 2) => value.toFixed(digits).replace('.', ',');
const frequencies = Array.from({ length: 320 }, (_, i) => 20 * 2 ** (i / 32));

/** Two header lines, semicolons, decimal commas, and a phase of −0,00 where rounding makes one. */
function responseFile({ name, radiusM, response, levelDb }: Made, degrees: number) {
  const rows = frequencies.map((hz) => {
    const [re, im] = response(hz);
    const narrowing =
      (hz / (343 / (2 * Math.PI * radiusM * 1.8))) * Math.sin((degrees * Math.PI) / 180);
    const level =
      levelDb + 20 * Math.log10(Math.hypot(re, im)) - 10 * Math.log10(1 + narrowing ** 2);
    const turned = (Math.atan2(im, re) * 180) / Math.PI - 360 * hz * 0.00292;
    const phase = turned - 360 * Math.round(turned / 360);
    return `${comma(hz, 3)};${comma(level)};${Math.abs(phase) < 1.5 ? '-0,00' : comma(phase)}`;
  });
  return {
    name: `${name} hor ${degrees}.txt`,
    mimeType: 'text/plain',
    buffer: Buffer.from(`Frequenz;Pegel;Phase\nHz;dB;Grad\n${rows.join('\n')}\n`),
  };
}

function impedanceFile({ name, fsHz }: Made) {
  const rows = frequencies.map((hz) => {
    const x = hz / fsHz - fsHz / hz;
    const [re, im] = over([20, 0], [1, 3 * x]);
    const z: Complex = [5.6 + re, im + 2 * Math.PI * hz * 0.00004];
    const phase = (Math.atan2(z[1], z[0]) * 180) / Math.PI;
    return `${comma(hz, 3)};${comma(Math.hypot(...z))};${Math.abs(phase) < 0.4 ? '-0,00' : comma(phase)}`;
  });
  return {
    name: `${name} impedanz.txt`,
    mimeType: 'text/plain',
    buffer: Buffer.from(`Frequenz;Impedanz;Phase\nHz;Ohm;Grad\n${rows.join('\n')}\n`),
  };
}

const kit = made.flatMap((one) => [
  ...Array.from({ length: 10 }, (_, i) => responseFile(one, 10 * i)),
  impedanceFile(one),
]);

async function emptyProject(page: Page): Promise<string> {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/brief$/);
  return /p\/([^/]+)\//.exec(page.url())![1];
}

test('twenty-two files to a fitted two-way in at most twelve presses, saved and undone as one', async ({
  page,
}) => {
  expect(kit).toHaveLength(22);
  expect(kit.some(({ buffer }) => buffer.toString().includes(';-0,00'))).toBe(true);
  // Asked for ahead: a key is quicker than the browser is told to hand its chooser over.
  const chooser = page.waitForEvent('filechooser');
  const id = await emptyProject(page);
  await page.goto(`/p/${id}/bench`);
  await expect(page.getByRole('heading', { name: 'Drivers' })).toBeVisible();
  let presses = 0;
  const press = async (name: string | RegExp, role: 'button' | 'tab' | 'link' = 'button') => {
    presses++;
    await page.getByRole(role, { name, exact: typeof name === 'string' }).click();
  };
  const key = async (keys: string) => {
    presses++;
    await page.keyboard.press(keys);
  };

  await key('f');
  await (await chooser).setFiles(kit);
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('heading', { name: '22 measurements were read' })).toBeVisible({
    timeout: 30_000,
  });
  await expect(sheet.getByText('10 responses 0–90° horizontal, 1 impedance')).toHaveCount(2);
  await expect(sheet.getByText(/fit one microphone position: common timing/)).toBeVisible();
  await press('Take over');
  await expect(
    page.getByRole('button', { name: /Dome off its axis.*10 responses.*horizontal to 90°/ }),
  ).toBeVisible();
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: {
      drivers: { name: string; offAxisIds: string[]; impedanceId: string }[];
      measurements: unknown[];
    };
  };
  expect(document.drivers.map(({ name, offAxisIds }) => [name, offAxisIds.length])).toEqual([
    ['Midwoofer', 10],
    ['Dome', 10],
  ]);
  expect(document.measurements).toHaveLength(22);

  await key('5');
  await press('Give each driver its way');
  await press('Put the slope on the rail');
  await press(/^Dome: Dome/);
  await press('Put the slope on the rail');
  await key('Alt+2');
  await press('Free all');
  await press('Fit');
  const outcome = page.getByRole('table', { name: 'What came of it' });
  await expect(outcome).toBeVisible({ timeout: 60_000 });
  expect(presses).toBeLessThanOrEqual(12);
  const deviation = await outcome.getByRole('row', { name: /^On axis ±/ }).textContent();
  expect(Number(/→ ±([\d.]+)/.exec(deviation!)![1])).toBeLessThan(2);
  // The window was measured, so it is judged.
  await expect(outcome.getByRole('row', { name: /^Window/ })).toBeVisible();
  await expectSaved(page);
});

test('taking over is one step, and what is proposed can be corrected', async ({ page }) => {
  const id = await emptyProject(page);
  await page.goto(`/p/${id}/bench`);
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles([
    ...kit.slice(0, 4),
    kit[10],
    {
      name: 'other.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('Hz;Ohm;Drehung\n20;7,2;-12,5\n200;6,8;0,0\n2000;9,1;31,0\n'),
    },
  ]);
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByRole('heading', { name: '6 measurements were read' })).toBeVisible();
  await sheet.getByText(/column 3 \(“Drehung”\) runs like one/).click();
  await sheet.getByRole('textbox', { name: 'Name of the driver Dome' }).fill('Calotte');
  await sheet.getByRole('textbox', { name: 'Name of the driver Dome' }).press('Enter');
  await sheet.getByRole('button', { name: /Driver of dome hor 30/ }).click();
  await page.getByRole('option', { name: 'nobody yet' }).click();
  await sheet.getByRole('button', { name: 'Take over' }).click();
  await expectSaved(page);
  const documentOf = async () =>
    (await stored(page, id)) as unknown as {
      document: {
        drivers: { name: string; offAxisIds: string[] }[];
        measurements: { name: string; origin: { warnings: string[] } }[];
      };
    };
  const { document } = await documentOf();
  expect(document.drivers.find(({ name }) => name === 'Calotte')!.offAxisIds).toHaveLength(3);
  const other = document.measurements.find(({ name }) => name === 'other')!;
  expect(other.origin.warnings.join(' ')).toContain('was taken for the phase');
  await page.keyboard.press('Control+z');
  await expectSaved(page);
  expect((await documentOf()).document).toMatchObject({ drivers: [], measurements: [] });
});
