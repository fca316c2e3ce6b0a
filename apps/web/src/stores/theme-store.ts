import { create } from 'zustand';

export type Theme = 'light' | 'dark';
const KEY = 'lantern-theme';

interface ThemeState {
  readonly theme: Theme;
  toggle(): void;
}

function initial(): Theme {
  const kept = localStorage.getItem(KEY);
  return kept === 'dark' ? 'dark' : 'light';
}

function apply(theme: Theme): Theme {
  document.documentElement.dataset['theme'] = theme;
  return theme;
}

/** Light unless the analyst chose dark. */
export const useTheme = create<ThemeState>((set) => ({
  theme: apply(initial()),
  toggle: () =>
    set(({ theme }) => {
      const next = apply(theme === 'light' ? 'dark' : 'light');
      localStorage.setItem(KEY, next);
      return { theme: next };
    }),
}));
