const key = 'fair-theme';

/** Changes between the light and the dark theme, and remembers it in this browser. */
export function toggleTheme(): void {
  const root = document.documentElement;
  const shown =
    root.dataset.theme ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
  root.dataset.theme = shown === 'light' ? 'dark' : 'light';
  localStorage.setItem(key, root.dataset.theme);
}

/** Runs before the first paint, so that the chosen theme does not flash. */
export const themeScript = `try{const t=localStorage.getItem('${key}');if(t==='light'||t==='dark')document.documentElement.dataset.theme=t}catch{}`;
