import type { ReactNode } from 'react';

interface Props {
  checked: boolean;
  onChange: (on: boolean) => void;
  /** True: one of a list, a row of its own that lights up under the pointer. */
  isRow?: boolean;
  children: ReactNode;
}

/** Yes or no. */
export function Checkbox({ checked, onChange, isRow = false, children }: Props) {
  return (
    <label className={`flex items-center gap-2 ${isRow ? 'min-h-7 rounded-md px-1 hover:bg-wash' : ''}`}>
      <input
        type="checkbox"
        className="size-4 shrink-0 accent-dawn"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      <span className={isRow ? 'flex min-w-0 flex-1 items-center gap-2' : ''}>{children}</span>
    </label>
  );
}
