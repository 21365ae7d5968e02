import type { PartKind } from '@/core/document/schema';

/**
 * Symbols of IEC 60617, lying along x around the origin, with leads of wire up to ±22: resistor
 * (04-01-01, a rectangle), inductor (04-03-01, half circles), capacitor (04-02-01, two plates).
 */
export function PartSymbol({ kind }: { readonly kind: PartKind }) {
  switch (kind) {
    case 'resistor':
      return (
        <g fill="none" stroke="currentColor" strokeWidth="1.5">
          <path d="M-22 0H-18M18 0H22" />
          <rect x="-18" y="-6.5" width="36" height="13" fill="var(--sheet)" />
        </g>
      );
    case 'coil':
      return (
        <path
          d="M-22 0H-20A5 5 0 0 1 -10 0A5 5 0 0 1 0 0A5 5 0 0 1 10 0A5 5 0 0 1 20 0H22"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
        />
      );
    case 'capacitor':
      return (
        <path
          d="M-22 0H-3.5M-3.5 -11V11M3.5 -11V11M3.5 0H22"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
        />
      );
  }
}

/**
 * Loudspeaker (IEC 60617 09-09-01): a body with its horn to the right; the terminal is at the
 * origin.
 */
export function LoudspeakerSymbol({ hasLead }: { readonly hasLead: boolean }) {
  return (
    <g fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinejoin="round">
      {hasLead && <path d="M-12 0H0" />}
      <rect x="0" y="-9" width="8" height="18" />
      <path d="M8 -9L24 -21V21L8 9" />
    </g>
  );
}
