import { useState } from 'react';
import { Combobox } from '../ui/Combobox';
import { Popover } from '../ui/Popover';
import type { TargetView } from './imports';

interface Props {
  label: string;
  targets: readonly TargetView[];
  /** Null: the column is left out. */
  value: string | null;
  /** What other columns become already. */
  taken: readonly (string | null)[];
  onChange: (target: string | null) => void;
}

const out = { key: '', words: 'Leave this column out', kind: '' };

/** One of all the fields that there are, found by typing. */
export function TargetChoice({ label, targets, value, taken, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const chosen = targets.find((t) => t.key === value);
  const words = typed.trim().toLowerCase().split(/\s+/);
  const found = targets
    .filter((t) => !taken.includes(t.key))
    .map((t) => ({ key: t.key, words: t.name, kind: t.group }))
    .filter((t) => words.every((w) => `${t.words} ${t.kind}`.toLowerCase().includes(w)))
    .slice(0, 60);
  const choose = (key: string) => {
    setOpen(false);
    setTyped('');
    onChange(key || null);
  };
  return (
    <Popover
      label={label}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button
          type="button"
          className={`field flex items-center gap-2 text-left ${chosen ? '' : 'text-faded'}`}
          aria-label={`${label}: ${chosen?.name ?? 'nothing, it is left out'}`}
        >
          <span className="min-w-0 flex-1 truncate">{chosen?.name ?? 'Left out'}</span>
          <span aria-hidden="true" className="text-faded">
            ▾
          </span>
        </button>
      }
    >
      <div className="-m-3 w-96">
        <Combobox
          label={label}
          placeholder="Date, text, Jot …"
          typed={typed}
          onType={setTyped}
          found={[...(typed === '' ? [out] : []), ...found]}
          onChoose={(target) => choose(target.key)}
        />
      </div>
    </Popover>
  );
}
