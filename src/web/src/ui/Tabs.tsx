import { Tabs as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';

export interface Tab<T extends string> {
  value: T;
  label: string;
  content: ReactNode;
}

interface Props<T extends string> {
  label: string;
  value: T;
  tabs: readonly Tab<T>[];
  onChange: (value: T) => void;
}

/** Parts of one view, of which one is open. Arrows move between them. */
export function Tabs<T extends string>({ label, value, tabs, onChange }: Props<T>) {
  return (
    <Primitive.Root value={value} onValueChange={(next) => onChange(next as T)}>
      <Primitive.List aria-label={label} className="mb-6 flex gap-6 border-rule border-b">
        {tabs.map((tab) => (
          <Primitive.Trigger
            key={tab.value}
            value={tab.value}
            className="-mb-px border-transparent border-b-[3px] px-0.5 pb-1.5 text-faded hover:text-ink data-[state=active]:border-dawn data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {tab.label}
          </Primitive.Trigger>
        ))}
      </Primitive.List>
      {tabs.map((tab) => (
        <Primitive.Content key={tab.value} value={tab.value}>
          {tab.content}
        </Primitive.Content>
      ))}
    </Primitive.Root>
  );
}
