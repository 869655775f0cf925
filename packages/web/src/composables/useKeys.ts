import { onScopeDispose } from 'vue';

export type KeyTable = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** The name of a key press: `s`, `,`, `Ctrl+z`, `Ctrl+Shift+z`, ` `. */
export function nameKey(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey'>): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.ctrlKey || event.metaKey) return `Ctrl+${event.shiftKey ? 'Shift+' : ''}${key}`;
  return key;
}

/** Keys for a page; silent while something is typed or a control that uses the key has the focus. */
export function useKeys(table: KeyTable): void {
  const onKey = (event: KeyboardEvent) => {
    if (event.altKey || event.defaultPrevented) return;
    const target = event.target as HTMLElement | null;
    if (
      target?.closest(
        'input:not([type=range]):not([type=checkbox]), textarea, select, [contenteditable=true], [role=listbox], [role=dialog]',
      )
    )
      return;
    const name = nameKey(event);
    if (name === ' ' && target?.closest('button, a, [role=button], input, summary')) return;
    if (name.startsWith('Arrow') && target?.closest('[role=slider], input')) return;
    const act = table[name];
    if (!act) return;
    event.preventDefault();
    act(event);
  };
  window.addEventListener('keydown', onKey);
  onScopeDispose(() => window.removeEventListener('keydown', onKey));
}
