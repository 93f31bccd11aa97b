import type { ComponentProps, ReactNode } from 'react';
import type { Schemas } from '../api/client';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { Select } from '../ui/Select';

export type OrderRule = Schemas['OrderRule'];
export type Order = OrderRule['order'];

export const orderWords: Record<Order, string> = {
  newestFirst: 'Newest first',
  oldestFirst: 'Oldest first, round and round',
  shuffled: 'Shuffled',
  longestSinceLastSent: 'Longest since last sent',
  betterOnesMoreOften: 'Better ones more often',
};

interface Props {
  label: string;
  value: OrderRule | null;
  /** What stands for no order of its own; without it there must be one. */
  none?: string;
  /** The next posts that each order gives. */
  next?: Partial<Record<Order, readonly string[]>>;
  onChange: (order: OrderRule | null) => void;
  /** What else becomes of new posts: before their turn is said, and after it. */
  newPosts?: readonly [ReactNode, ReactNode];
}

/** How posts take turns, with what each order would send next. */
export function OrderFields({ label, value, none, next, onChange, newPosts }: Props) {
  const orders = Object.entries(orderWords) as [Order, string][];
  const set = (part: Partial<OrderRule>) => value && onChange({ ...value, ...part });
  const chosen = value && next?.[value.order];
  return (
    <div className="flex flex-col gap-2">
      <Field label={label}>
        {(id) => (
          <Select
            id={id}
            none={none}
            value={value?.order ?? ''}
            options={orders.map(([key, words]) => ({ value: key, label: words }))}
            onChange={(order) =>
              onChange(
                order === '' ? null : { freshFirst: false, pastGap: false, seed: 0, ...value, order: order as Order },
              )
            }
          />
        )}
      </Field>
      {chosen && (
        <p className="text-sm">
          <span className="text-faded">Next: </span>
          {chosen.length > 0 ? chosen.join(' · ') : 'nothing within four weeks'}
        </p>
      )}
      {value && (
        <>
          <p className="flex flex-wrap items-center gap-x-1.5 gap-y-1">
            New posts
            {newPosts?.[0]}
            <Word
              label="New posts: when"
              value={value.freshFirst ? 'first' : 'turn'}
              options={[
                { value: 'first', label: 'before all others' },
                { value: 'turn', label: 'in their turn' },
              ]}
              onChange={(when) => set({ freshFirst: when === 'first' })}
            />
            {newPosts?.[1] ?? '.'}
          </p>
          <Checkbox checked={value.pastGap} onChange={(pastGap) => set({ pastGap })}>
            If all are inside their gap, send the one that was sent longest ago
          </Checkbox>
        </>
      )}
    </div>
  );
}

/** Words of a sentence that are chosen from a few. */
export function Word(props: ComponentProps<typeof Select> & { label: string }) {
  const { label, ...rest } = props;
  return (
    <span className="inline-block [&_.field]:gap-1 [&_.field]:px-1 [&_.field]:py-0 [&_.field]:font-medium">
      <Select aria-label={label} {...rest} />
    </span>
  );
}
