import { Command } from 'cmdk';

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
  /** Already sifted: what the field holds is searched for elsewhere as well. */
  found: readonly T[];
  onChoose: (chosen: T) => void;
}

/** A field over the list of what it finds; arrows choose, Enter takes. */
export function Combobox<T extends Found>({ label, placeholder, typed, onType, found, onChoose }: Props<T>) {
  return (
    <Command label={label} shouldFilter={false} loop>
      <Command.Input
        aria-label={label}
        placeholder={placeholder}
        className="w-full border-rule border-b bg-transparent px-4 py-3 text-lg outline-none"
        value={typed}
        onValueChange={onType}
      />
      <Command.List label="Found" className="max-h-96 overflow-y-auto py-1">
        {found.map((item) => (
          <Command.Item
            key={item.key}
            value={item.key}
            onSelect={() => onChoose(item)}
            className="flex cursor-pointer items-baseline gap-3 px-4 py-1.5 aria-selected:bg-wash"
          >
            <span className="flex-1 truncate">{item.words}</span>
            <span className="text-faded text-sm">{item.kind}</span>
          </Command.Item>
        ))}
        <Command.Empty className="px-4 pb-3 text-faded">Nothing is called that. Try fewer letters.</Command.Empty>
      </Command.List>
    </Command>
  );
}
