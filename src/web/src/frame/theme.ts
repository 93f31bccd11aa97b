import { useEffect, useState } from 'react';

export type Theme = 'light' | 'dark';
const kept = 'able-lark:theme';

const preferred = (): Theme => {
  const chosen = localStorage.getItem(kept);
  if (chosen === 'light' || chosen === 'dark') return chosen;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
};

export function applyTheme(theme: Theme = preferred()) {
  document.documentElement.dataset.theme = theme;
}

export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState(preferred);
  useEffect(() => applyTheme(theme), [theme]);
  return [
    theme,
    (next) => {
      localStorage.setItem(kept, next);
      setTheme(next);
    },
  ];
}
