import { useEffect, useId, useRef, useState } from 'react';

export interface Found {
  key: string;
  words: string;
  kind: string;
}

interface Props<T extends Found> {
  label: string;
  placeholder: string;
  typed: string;
  onType: (typed: string) => void;
  found: readonly T[];
  onChoose: (chosen: T) => void;
}

/** A field over the list of what it finds; arrows choose, Enter takes. */
export function Combobox<T extends Found>({ label, placeholder, typed, onType, found, onChoose }: Props<T>) {
  const [at, setAt] = useState(0);
  const list = useId();
  const chosen = found[Math.min(at, found.length - 1)];
  const chosenRef = useRef<HTMLDivElement>(null);
  useEffect(() => {
    chosenRef.current?.scrollIntoView({ block: 'nearest' });
  });
  return (
    <>
      <input
        role="combobox"
        aria-expanded="true"
        aria-controls={list}
        aria-activedescendant={chosen ? `${list}-${chosen.key}` : undefined}
        aria-label={label}
        placeholder={placeholder}
        autoComplete="off"
        className="w-full border-rule border-b bg-transparent px-4 py-3 text-lg outline-none"
        value={typed}
        onChange={(event) => {
          onType(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, at + 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
          else if (event.key === 'Enter') chosen && onChoose(chosen);
          else return;
          event.preventDefault();
        }}
      />
      <div id={list} role="listbox" aria-label="Found" tabIndex={-1} className="max-h-96 overflow-y-auto py-1">
        {found.map((item) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are the field's, which keeps the focus and names the chosen one
          <div
            key={item.key}
            id={`${list}-${item.key}`}
            ref={item === chosen ? chosenRef : undefined}
            role="option"
            tabIndex={-1}
            aria-selected={item === chosen}
            onClick={() => onChoose(item)}
            className="flex cursor-pointer items-baseline gap-3 px-4 py-1.5 hover:bg-wash aria-selected:bg-wash"
          >
            <span className="flex-1 truncate">{item.words}</span>
            <span className="text-faded text-sm">{item.kind}</span>
          </div>
        ))}
      </div>
      {found.length === 0 && <p className="px-4 pb-3 text-faded">Nothing is called that. Try fewer letters.</p>}
    </>
  );
}
