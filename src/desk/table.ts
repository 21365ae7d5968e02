const key = 'fair-table';

/** Changes between the light and the dark table, and remembers it in this browser. */
export function toggleTable(): void {
  const root = document.documentElement;
  const shown =
    root.dataset.table ??
    (matchMedia('(prefers-color-scheme: dark)').matches ? 'evening' : 'paper');
  root.dataset.table = shown === 'paper' ? 'evening' : 'paper';
  localStorage.setItem(key, root.dataset.table);
}

/** Runs before the first paint, so that the chosen table does not flash. */
export const tableScript = `try{const t=localStorage.getItem('${key}');if(t==='paper'||t==='evening')document.documentElement.dataset.table=t}catch{}`;
