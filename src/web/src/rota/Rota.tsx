import { useState } from 'react';
import { edgeOf, Monogram, useCategory } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { clock, weekdayNames } from '../time/dates';
import { Button } from '../ui/Button';
import { Sheet } from '../ui/Sheet';
import { Empty, Fetched } from '../ui/States';
import { type Slot, useRota } from './rota';
import { SlotForm } from './SlotForm';

type Open = { slot: Slot | null; day: number };

/** The recurring week: weekdays across, slots by time. */
export function Rota() {
  const rota = useRota();
  const [open, setOpen] = useState<Open | null>(null);
  return (
    <>
      <div className="mb-4 flex items-baseline gap-5">
        <h1>The recurring week</h1>
        <p className="text-faded">
          {rota.data && `${perWeek(rota.data.slots)} places a week, times of ${rota.data.zone}`}
        </p>
        <Button look="chief" className="ml-auto" onClick={() => setOpen({ slot: null, day: 1 })}>
          Add a slot
        </Button>
      </div>
      <Fetched query={rota} what="the rota">
        {({ slots }) => (
          <>
            {slots.length === 0 && (
              <Empty
                title="The week is still blank"
                act={
                  <Button look="chief" onClick={() => setOpen({ slot: null, day: 1 })}>
                    Add the first slot
                  </Button>
                }
              >
                A slot is a category at a time on some weekdays, for some channels. It comes round every week; the
                rotation picks the post.
              </Empty>
            )}
            <div className="grid grid-cols-7 border-ink border-t-[1.5px]">
              {weekdayNames.map((name, i) => (
                <section key={name} aria-label={name} className="min-h-64 border-rule not-first:border-l px-1.5 pb-3">
                  <header className="flex items-baseline justify-between px-1 py-1.5">
                    <h2>{name}</h2>
                    <Button
                      look="quiet"
                      className="!px-2 !py-0"
                      aria-label={`Add a slot on ${name}`}
                      onClick={() => setOpen({ slot: null, day: i + 1 })}
                    >
                      +
                    </Button>
                  </header>
                  <ul className="flex flex-col gap-1.5">
                    {slots
                      .filter((slot) => slot.days.includes(i + 1))
                      .map((slot) => (
                        <li key={slot.id}>
                          <SlotCard
                            slot={slot}
                            chosen={open?.slot?.id === slot.id}
                            onOpen={() => setOpen({ slot, day: i + 1 })}
                          />
                        </li>
                      ))}
                  </ul>
                </section>
              ))}
            </div>
          </>
        )}
      </Fetched>
      <Sheet open={open !== null} title={open?.slot ? 'The slot' : 'A new slot'} onClose={() => setOpen(null)}>
        {open && (
          <SlotForm
            key={open.slot?.id ?? `new-${open.day}`}
            slot={open.slot}
            day={open.day}
            onDone={() => setOpen(null)}
          />
        )}
      </Sheet>
    </>
  );
}

const perWeek = (slots: readonly Slot[]) => slots.reduce((n, s) => n + s.days.length * s.channels.length, 0);

function SlotCard({ slot, chosen, onOpen }: { slot: Slot; chosen: boolean; onOpen: () => void }) {
  const category = useCategory(slot.categoryId);
  return (
    <button
      type="button"
      data-slot={slot.id}
      onClick={onOpen}
      style={edgeOf(category)}
      className={`block w-full rounded-sm px-2 py-1.5 text-left text-sm hover:bg-wash ${slot.categoryId ? 'edge-settled' : 'edge-empty'} ${chosen ? 'outline-2 outline-dawn' : ''}`}
    >
      <span className="flex items-center gap-1.5">
        <span className="font-head font-semibold text-base">{clock(slot.time)}</span>
        <Monogram category={category} />
      </span>
      <span className="block truncate">{category?.name ?? 'Kept free'}</span>
      {slot.channels.map((id) => (
        <ChannelName key={id} id={id} className="!flex text-faded text-xs" />
      ))}
    </button>
  );
}
