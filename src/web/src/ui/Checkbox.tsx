import type { ReactNode } from 'react';

interface Props {
  checked: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
}

/** Yes or no. */
export function Checkbox({ checked, onChange, children }: Props) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="size-4 shrink-0 accent-dawn"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      <span>{children}</span>
    </label>
  );
}
