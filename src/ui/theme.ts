/**
 * The drawing table: paper, ink, one strong accent. Tokens are CSS variables, so that the light
 * ("paper") and the dark table need no second render. Values are in GlobalStyle.
 */
export const theme = {
  colour: {
    paper: 'var(--paper)',
    sheet: 'var(--sheet)',
    raised: 'var(--raised)',
    ink: 'var(--ink)',
    quiet: 'var(--quiet)',
    rule: 'var(--rule)',
    grid: 'var(--grid)',
    accent: 'var(--accent)',
    accentWash: 'var(--accent-wash)',
    onAccent: 'var(--on-accent)',
    alarm: 'var(--alarm)',
    alarmWash: 'var(--alarm-wash)',
    doubt: 'var(--doubt)',
  },
  font: {
    text: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif",
    figures: "'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace",
  },
  size: { small: '0.75rem', body: '0.875rem', title: '1rem', large: '1.375rem' },
  radius: '3px',
} as const;

export type Theme = typeof theme;

/** Line styles of curves, told apart by hue and dash; safe for colour-blind eyes in this order. */
const curveStyles = [
  { colour: 'var(--curve-1)', dash: '7 4' },
  { colour: 'var(--curve-2)', dash: '2 3' },
  { colour: 'var(--curve-3)', dash: '9 3 2 3' },
  { colour: 'var(--curve-4)', dash: '4 2 1 2 1 2' },
  { colour: 'var(--curve-5)', dash: '12 4' },
  { colour: 'var(--curve-6)', dash: '1 4' },
] as const;

/** The style of the n-th way or driver, the same on every screen. */
export const curveStyle = (index: number) => curveStyles[index % curveStyles.length];
