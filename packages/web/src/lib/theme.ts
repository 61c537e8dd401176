export type Theme = 'day' | 'night';

const KEY = 'bright-ferry-theme';

/** The theme chosen before, else what the system asks for. Storage may be blocked. */
export function storedTheme(): Theme {
  try {
    const kept = localStorage.getItem(KEY);
    if (kept === 'day' || kept === 'night') return kept;
  } catch {
    // Blocked storage: the system's wish is taken.
  }
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day';
}

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset['theme'] = theme;
  try {
    localStorage.setItem(KEY, theme);
  } catch {
    // It is then only for this visit.
  }
}
