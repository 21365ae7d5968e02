'use client';

/**
 * In the place of the whole page when even its frame failed: plain, because nothing else can be
 * relied on.
 */
export default function GlobalError({
  error,
  reset,
}: {
  readonly error: Error;
  readonly reset: () => void;
}) {
  return (
    <html lang="en">
      <body style={{ fontFamily: 'sans-serif', maxWidth: '36rem', margin: '4rem auto' }}>
        <h1>Fair Voicing could not show this page</h1>
        <p>{error.message}</p>
        <p>Nothing that you changed is lost: it is kept in this browser until it can be saved.</p>
        <button type="button" onClick={reset}>
          Try again
        </button>
      </body>
    </html>
  );
}
