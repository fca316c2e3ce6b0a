import { create } from 'zustand';

export type Theme = 'light' | 'dark';
const KEY = 'lantern-theme';

interface ThemeState {
  readonly theme: Theme;
  toggle(): void;
}

const SYSTEM = window.matchMedia('(prefers-color-scheme: dark)');
const systemTheme = (): Theme => (SYSTEM.matches ? 'dark' : 'light');

/** What the analyst chose; null while the system decides. */
function chosen(): Theme | null {
  const kept = localStorage.getItem(KEY);
  return kept === 'dark' || kept === 'light' ? kept : null;
}

function apply(theme: Theme): Theme {
  document.documentElement.dataset['theme'] = theme;
  return theme;
}

/** Follows the system until the analyst chooses. */
export const useTheme = create<ThemeState>((set) => ({
  theme: apply(chosen() ?? systemTheme()),
  toggle: () =>
    set(({ theme }) => {
      const next = apply(theme === 'light' ? 'dark' : 'light');
      localStorage.setItem(KEY, next);
      return { theme: next };
    }),
}));

SYSTEM.addEventListener('change', () => {
  if (chosen() === null) useTheme.setState({ theme: apply(systemTheme()) });
});
