/**
 * Moves the focus to a tab that was just chosen by key, so that the next Tab key goes into its
 * panel.
 */
export function focusTab(id: string): void {
  setTimeout(() => document.querySelector<HTMLElement>(`[role="tab"][data-key="${id}"]`)?.focus());
}
