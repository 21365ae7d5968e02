import { driversInBox, leastXmaxMm } from '@/core/cabinet/driversInBox';
import { portHits, quietAreaM2, quietMps, withPortClear } from '@/core/cabinet/vent';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { programmePeak } from '@/core/lows/boxFigures';
import type { BoxView, BoxViews } from '@/core/lows/view';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { finding, hzText, mmText, type BoxFinding } from './finding';

/** A port that does not fit, is heard, or lets the cone go. */
export function ofVent(
  design: Design,
  box: Box,
  { vent, figures, tunedHz, curves }: BoxView,
  views: BoxViews,
): BoxFinding[] {
  if (!vent || box.kind !== 'vented') return [];
  const found: BoxFinding[] = [];
  const doubt = finding('doubt', box.name);
  if (vent.clearanceMm < 0)
    found.push(
      finding(
        'stops',
        box.name,
      )([
        'port_too_long',
        `The port is ${mmText(-vent.clearanceMm)} longer than the room inside.`,
        `${box.port.count > 1 ? 'They reach' : 'It reaches'} through the wall behind.`,
        'Bend it, make the box deeper, or take a narrower port and tune the box anew: for the same tuning it is shorter, and louder.',
      ]),
    );
  else if (vent.clearanceMm < vent.neededMm)
    found.push(
      doubt([
        'port_too_near',
        `The port ends ${mmText(vent.clearanceMm)} before the wall behind it; ${mmText(vent.neededMm)} are needed.`,
        'Nearer than one diameter, or two heights of a slot, the wall lowers the tuning and stirs the air (common practice).',
        'Bend it, make the box deeper, or take a narrower port and tune the box anew: for the same tuning it is shorter, and louder.',
      ]),
    );
  if (vent.tooWideMm > 0)
    found.push(
      finding(
        'stops',
        box.name,
      )([
        'port_too_wide',
        `The port is ${mmText(vent.tooWideMm)} wider than the inside of the box.`,
        '',
        box.port.count > 1
          ? 'Take fewer ports, narrower ones, or a wider box.'
          : 'Make it narrower, or the box wider.',
      ]),
    );
  const hit = portHits(box, design);
  if (hit !== null)
    found.push(
      finding('stops', box.name)(
        [
          'port_hits_driver',
          `The port is where ${hit} sits on the front.`,
          '',
          'Move it up or down, to the side, or to the rear.',
        ],
        {
          told: 'Move the port clear of the drivers',
          changes: [{ type: 'setBox', box: withPortClear(box, design) }],
        },
      ),
    );
  const limit = quietMps(box.port);
  if (figures?.portMps !== null && figures && figures.portMps > limit)
    found.push(
      doubt([
        'port_noisy',
        `Air in the port reaches ${formatFixed(figures.portMps, 0)} m/s under programme.`,
        `Above about ${limit} m/s it is audible (common practice).`,
        'A wider port, a second one, or flared ends; all of them get longer.',
      ]),
    );
  const wantedCm2 = tunedHz === null ? 0 : 1e4 * quietAreaM2(box, design, tunedHz);
  if (vent.areaCm2 < 0.7 * wantedCm2)
    found.push(
      finding(
        'advice',
        box.name,
      )([
        'port_small_at_full_excursion',
        `At the drivers’ whole excursion the port, ${formatFixed(vent.areaCm2, 0)} cm², is loud: ${formatFixed(wantedCm2, 0)} cm² would stay quiet.`,
        `Small (1973) asks for 0.8·fb·Vd${figures && figures.portMps !== null && figures.portMps <= limit ? '; at what the brief asks it is quiet' : ''}.`,
        'Take a wider port if the amplifier is to be used to its end; it gets longer.',
      ]),
    );
  if (vent.pipeHz < 1000)
    found.push(
      finding(
        'advice',
        box.name,
      )([
        'port_pipe_mode',
        `The port sounds like an organ pipe at ${hzText(vent.pipeHz)}.`,
        'Midrange from inside the box leaves it there, where the woofer still plays.',
        `${box.port.side === 'front' ? 'Put its mouth on the rear, line' : 'Line'} the wall opposite its inner end, cross over below, or use two ports, each narrower and shorter.`,
      ]),
    );
  if (box.fill === 'half' || box.fill === 'full')
    found.push(
      doubt(
        [
          'vented_box_filled',
          'A vented box is filled.',
          'Fibre in the way of the port takes its output and may be drawn into it.',
          'Line the walls and keep one diameter around the port clear.',
        ],
        {
          told: 'Line the walls only',
          changes: [{ type: 'setBox', box: { ...box, fill: 'walls' } }],
        },
      ),
    );
  const xmaxMm = leastXmaxMm(box, design.drivers);
  if (tunedHz !== null && curves && views.timesRated !== null && xmaxMm !== null) {
    const at = views.frequencyHz.findIndex((hz) => hz >= tunedHz / 2);
    const mm = curves.excursionMm[at] * views.timesRated;
    if (mm > xmaxMm)
      found.push(
        finding(
          'advice',
          box.name,
        )([
          'below_tuning',
          `Below ${hzText(tunedHz)} nothing holds the cone: at ${hzText(tunedHz / 2)} the amplifier’s rated voltage moves it ${mm > 2 * xmaxMm ? 'far beyond its Xmax' : `${formatFixed(mm, 0)} mm, beyond its Xmax`} of ${formatNumber(xmaxMm)} mm.`,
          'Warps of records and rumble, far weaker than that, can move it several millimetres without a sound.',
          'A high-pass before the amplifier below the tuning, if records are played.',
        ]),
      );
  }
  return found;
}

/** What moves farther than it may. */
export function ofExcursion(
  design: Design,
  box: Box,
  { figures, curves }: BoxView,
  views: BoxViews,
): BoxFinding[] {
  const own = driversInBox(box, design.drivers).flatMap(({ name, sheet }) =>
    sheet.xmaxMm === null ? [] : [{ name, xmaxMm: sheet.xmaxMm }],
  );
  const found: BoxFinding[] = [];
  for (const { name, xmaxMm } of own)
    if (figures?.excursionMm !== null && figures && figures.excursionMm > xmaxMm)
      found.push(
        finding(
          'doubt',
          box.name,
        )([
          'excursion_over_xmax',
          `${name} moves ${formatFixed(figures.excursionMm, 1)} mm under programme; its Xmax is ${formatNumber(xmaxMm)} mm.`,
          'Beyond Xmax it distorts.',
          'A smaller sealed box, a higher tuning, a high-pass, more cone area, or less level.',
        ]),
      );
  if (box.kind === 'passive-radiator' && curves && views.timesProgramme !== null) {
    const { openingSpeed } = curves;
    const sineMm = views.frequencyHz.map((hz, i) => (1000 * openingSpeed[i]) / (2 * Math.PI * hz));
    const reach = programmePeak(views.frequencyHz, sineMm, views.timesProgramme);
    if (reach > box.passive.xmaxMm)
      found.push(
        finding(
          'doubt',
          box.name,
        )([
          'passive_over_xmax',
          `The passive radiator moves ${formatFixed(reach, 1)} mm under programme; its Xmax is ${formatNumber(box.passive.xmaxMm)} mm.`,
          'It should displace about twice what the driver does (common practice).',
          'A larger one, or two.',
        ]),
      );
  }
  return found;
}
