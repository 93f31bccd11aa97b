import { ToggleGroup } from 'radix-ui';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  onChange: (value: T) => void;
  /** True: with little room beside the words. */
  isTight?: boolean;
}

/** One of a few, side by side. */
export function Choice<T extends string>({ label, value, options, onChange, isTight = false }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as T)}
      className="inline-flex overflow-hidden rounded-md border-[1.5px] border-rule-strong"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className={`border-rule-strong not-first:border-l hover:bg-wash data-[state=on]:bg-ink data-[state=on]:text-paper ${isTight ? 'px-2 py-0.5' : 'px-3 py-1'}`}
        >
          {option.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
