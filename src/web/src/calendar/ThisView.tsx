import { useState } from 'react';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Popover } from '../ui/Popover';
import { Down, small } from './Head';
import { type CardPart, cardParts } from './look';
import { SavedViews, useCurrentView } from './SavedViews';
import { TakeAlong } from './TakeAlong';

interface Props {
  from: string;
  to: string;
  /** What stands on a card; null: the view has none. */
  parts: ReadonlySet<CardPart> | null;
  onParts: (parts: ReadonlySet<CardPart>) => void;
}

/** The way of looking: what stands on a card, kept under a name, and taken along to other calendars. */
export function ThisView({ from, to, parts, onParts }: Props) {
  const [open, setOpen] = useState(false);
  const current = useCurrentView();
  return (
    <Popover
      label="This view"
      open={open}
      onOpenChange={setOpen}
      trigger={
        <Button className={`${small} max-w-40`}>
          <span className="truncate">
            <Down>{current?.name ?? 'This view'}</Down>
          </span>
        </Button>
      }
    >
      <div className="flex max-h-[calc(100vh-10rem)] w-80 flex-col gap-4 overflow-y-auto">
        <SavedViews onDone={() => setOpen(false)} />
        {parts && <Looks parts={parts} onParts={onParts} />}
        <TakeAlong from={from} to={to} />
      </div>
    </Popover>
  );
}

/** What stands on a card. */
function Looks({ parts, onParts }: { parts: ReadonlySet<CardPart>; onParts: (parts: ReadonlySet<CardPart>) => void }) {
  return (
    <fieldset>
      <legend className="font-head font-semibold">On a card, beside its time</legend>
      <div className="grid grid-cols-2">
        {cardParts.map((part) => (
          <Checkbox
            key={part.value}
            isRow
            checked={parts.has(part.value)}
            onChange={(on) => {
              const next = new Set(parts);
              on ? next.add(part.value) : next.delete(part.value);
              onParts(next);
            }}
          >
            {part.label}
          </Checkbox>
        ))}
      </div>
    </fieldset>
  );
}
