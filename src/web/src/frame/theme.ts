import { useEffect, useState } from 'react';

export type Theme = 'paper' | 'dusk';
const kept = 'able-lark:theme';

const preferred = (): Theme => {
  const chosen = localStorage.getItem(kept);
  if (chosen === 'paper' || chosen === 'dusk') return chosen;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dusk' : 'paper';
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
