import type { OnePortImpedance } from './blockSystem';
import { isPassive, seriesFormOf } from './immittance';
import type { BranchTree } from './merge';
import type { Netlist } from './netlist';

/** Impedance of a merged branch over frequency, and what its elements do to it. */
export interface BranchImpedance {
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** Works it out for the values of a netlist. */
  evaluate(netlist: Netlist): void;
  /**
   * Writes (dz/d ln value)/z² of an element that is inside.
   *
   * @param lossSlope ohms by which its series resistance rises with it
   */
  slope(
    netlist: Netlist,
    element: number,
    lossSlope: number,
    re: Float64Array,
    im: Float64Array,
  ): void;
  /** Numbers of the elements that it is made of. */
  readonly elements: readonly number[];
}

/** A branch that was merged from series and parallel ones. */
export function createBranchImpedance(
  tree: BranchTree,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  omega: Float64Array,
): BranchImpedance {
  return tree.join === 'none'
    ? createLeaf(tree.element, netlist, onePorts, omega)
    : createJoin(
        tree.join,
        tree.members.map((member) => createBranchImpedance(member, netlist, onePorts, omega)),
        omega.length,
      );
}

function createLeaf(
  e: number,
  { elements }: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  omega: Float64Array,
): BranchImpedance {
  const points = omega.length;
  const re = new Float64Array(points);
  const im = new Float64Array(points);
  const load = elements[e].kind === 'oneport' ? onePorts.get(elements[e].name)! : null;
  if (load) {
    re.set(load.re);
    im.set(load.im);
  }
  return {
    ...{ re, im, elements: [e] },
    evaluate(netlist) {
      const element = netlist.elements[e];
      if (!isPassive(element)) return;
      const { ohms, henries, elastance } = seriesFormOf(element);
      re.fill(ohms);
      for (let i = 0; i < points; i++) im[i] = omega[i] * henries - elastance / omega[i];
    },
    slope(netlist, _, lossSlope, outRe, outIm) {
      const element = netlist.elements[e];
      if (!isPassive(element)) return;
      const { henries, elastance, ohmsSlope } = seriesFormOf(element);
      const dRe = ohmsSlope + lossSlope;
      for (let i = 0; i < points; i++) {
        const dIm = omega[i] * henries + elastance / omega[i];
        const x = re[i];
        const y = im[i];
        const qRe = x * x - y * y;
        const qIm = 2 * x * y;
        const scale = 1 / (qRe * qRe + qIm * qIm);
        outRe[i] = (dRe * qRe + dIm * qIm) * scale;
        outIm[i] = (dIm * qRe - dRe * qIm) * scale;
      }
    },
  };
}

function createJoin(
  join: 'series' | 'parallel',
  members: readonly BranchImpedance[],
  points: number,
): BranchImpedance {
  const re = new Float64Array(points);
  const im = new Float64Array(points);
  return {
    ...{ re, im, elements: members.flatMap(({ elements }) => elements) },
    evaluate(netlist) {
      re.fill(0);
      im.fill(0);
      for (const member of members) {
        member.evaluate(netlist);
        const [mRe, mIm] = [member.re, member.im];
        if (join === 'series')
          for (let i = 0; i < points; i++) {
            re[i] += mRe[i];
            im[i] += mIm[i];
          }
        else
          for (let i = 0; i < points; i++) {
            const scale = 1 / (mRe[i] * mRe[i] + mIm[i] * mIm[i]);
            re[i] += mRe[i] * scale;
            im[i] -= mIm[i] * scale;
          }
      }
      if (join === 'parallel')
        for (let i = 0; i < points; i++) {
          const scale = 1 / (re[i] * re[i] + im[i] * im[i]);
          re[i] *= scale;
          im[i] *= -scale;
        }
    },
    slope(netlist, element, lossSlope, outRe, outIm) {
      const member = members.find(({ elements }) => elements.includes(element))!;
      member.slope(netlist, element, lossSlope, outRe, outIm);
      // In parallel dz/z² is the member's own: admittances add up. In series dz is.
      if (join === 'parallel') return;
      const [mRe, mIm] = [member.re, member.im];
      for (let i = 0; i < points; i++) {
        // The ratio member/whole, squared.
        const size = 1 / (re[i] * re[i] + im[i] * im[i]);
        const x = (mRe[i] * re[i] + mIm[i] * im[i]) * size;
        const y = (mIm[i] * re[i] - mRe[i] * im[i]) * size;
        const qRe = x * x - y * y;
        const qIm = 2 * x * y;
        const a = outRe[i];
        const b = outIm[i];
        outRe[i] = a * qRe - b * qIm;
        outIm[i] = a * qIm + b * qRe;
      }
    },
  };
}
