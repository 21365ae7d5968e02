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
    if (wished !== id) return;
    const target = document.querySelector<SVGGElement>(`[data-target="${id}"]`);
    if (target) target.focus();
    else if (triesLeft > 0) setTimeout(() => look(triesLeft - 1), 16);
  };
  setTimeout(() => look(focusTries), 0);
}
