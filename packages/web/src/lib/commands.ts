/** Something that a key does; the list of commands shows them all. */
export interface Command {
  readonly title: string;
  /** As shown, e.g. `Ctrl Z`, `n`, `g c`. */
  readonly keys: string;
  readonly run: () => void;
}

const editing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Time within which the second key of a pair such as `g c` has to follow, milliseconds. */
const PAIR = 1200;

/** Listens for the keys of the commands; typing into a field is left alone. Returns what stops it. */
export function listenForKeys(commands: () => readonly Command[]): () => void {
  let first: { key: string; at: number } | null = null;
  const onKey = (event: KeyboardEvent): void => {
    if (event.defaultPrevented || editing(event.target)) return;
    const pressed = name(event);
    const pair = first && performance.now() - first.at < PAIR ? `${first.key} ${pressed}` : null;
    const list = commands();
    const hit = list.find((c) => c.keys === pair) ?? list.find((c) => c.keys === pressed);
    first = { key: pressed, at: performance.now() };
    if (!hit) return;
    event.preventDefault();
    first = null;
    hit.run();
  };
  window.addEventListener('keydown', onKey);
  return () => window.removeEventListener('keydown', onKey);
}

function name(event: KeyboardEvent): string {
  let key;
  if (event.key.length === 1) key = event.ctrlKey || event.metaKey ? event.key.toUpperCase() : event.key;
  else if (event.key === 'Escape') key = 'Esc';
  else if (event.key === 'ArrowLeft') key = '←';
  else if (event.key === 'ArrowRight') key = '→';
  else key = event.key;
  return (
    `${event.ctrlKey || event.metaKey ? 'Ctrl ' : ''}` +
    `${(event.ctrlKey || event.metaKey) && event.shiftKey ? 'Shift ' : ''}${key}`
  );
}
