import { Select as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';

export interface Option {
  value: string;
  label: string;
  /** Stands before the words: a monogram, a channel's mark. */
  mark?: ReactNode;
}

interface Props {
  id?: string;
  'aria-label'?: string;
  'aria-describedby'?: string | undefined;
  value: string;
  options: readonly Option[];
  /** What stands for no choice; without it one must be chosen. */
  none?: string | undefined;
  onChange: (value: string) => void;
}

/** The primitive keeps the empty value for itself. */
const nothing = '-';

/** One of many: letters jump to the option that begins with them. */
export function Select({ value, options, none, onChange, ...rest }: Props) {
  return (
    <Primitive.Root
      value={value === '' && none !== undefined ? nothing : value}
      onValueChange={(next) => onChange(next === nothing ? '' : next)}
    >
      <Primitive.Trigger {...rest} className="field flex items-center gap-2 text-left data-[state=open]:border-dawn">
        <span className="min-w-0 flex-1 truncate">
          <Primitive.Value placeholder="Choose" />
        </span>
        <span aria-hidden="true" className="text-faded">
          ▾
        </span>
      </Primitive.Trigger>
      <Primitive.Portal>
        <Primitive.Content
          position="popper"
          sideOffset={3}
          collisionPadding={8}
          className="z-50 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) overflow-hidden rounded-md border border-rule-strong bg-leaf shadow-lg"
        >
          <Primitive.Viewport className="max-h-96 p-1">
            {none !== undefined && <Item option={{ value: nothing, label: none }} />}
            {options.map((option) => (
              <Item key={option.value} option={option} />
            ))}
          </Primitive.Viewport>
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}

function Item({ option }: { option: Option }) {
  return (
    <Primitive.Item
      value={option.value}
      textValue={option.label}
      className="cursor-pointer rounded-sm border-transparent border-l-3 px-3 py-1 outline-none data-[state=checked]:border-dawn data-[highlighted]:bg-wash"
    >
      <Primitive.ItemText>
        <span className="inline-flex max-w-full items-center gap-1.5">
          {option.mark}
          <span className="truncate">{option.label}</span>
        </span>
      </Primitive.ItemText>
    </Primitive.Item>
  );
}
