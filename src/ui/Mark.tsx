/** The mark: a fair curve over its base line. */
export function Mark({ size = 20 }: { readonly size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 20 20"
      aria-hidden
      fill="none"
      stroke="var(--accent)"
      strokeWidth="2"
      strokeLinecap="round"
    >
      <path d="M2 13 C6 13 7 5 10 5 S14 13 18 13" />
      <path d="M2 17 H18" strokeWidth="1.2" stroke="var(--ink)" />
    </svg>
  );
}
