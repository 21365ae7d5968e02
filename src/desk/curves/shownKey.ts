const arrows: Readonly<Record<string, string>> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
};

/** "Ctrl+Shift+Z" as it starts from a key: "Ctrl Shift Z". */
export function shownKey(keys: string): string {
  return keys
    .split('+')
    .map((part) => arrows[part] ?? part)
    .join(' ');
}
