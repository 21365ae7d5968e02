/**
 * Looks for about a second: a drawing that was not there before needs a moment to know its width.
 */
const focusTries = 60;

/** What shall have the focus; of several wishes only the last counts. */
let wished: string | null = null;

/** Gives the focus to something on the drawing, once it has been drawn again. */
export function focusSoon(id: string): void {
  wished = id;
  const look = (triesLeft: number) => {
    if (wished !== id || focusWished()) return;
    if (triesLeft > 0) setTimeout(() => look(triesLeft - 1), 16);
    else wished = null;
  };
  setTimeout(() => look(focusTries), 0);
}

/** Gives the focus now to what shall have it, where it is drawn. @returns whether it was */
export function focusWished(): boolean {
  const target =
    wished === null ? null : document.querySelector<SVGGElement>(`[data-target="${wished}"]`);
  if (!target) return false;
  wished = null;
  target.focus();
  return true;
}
