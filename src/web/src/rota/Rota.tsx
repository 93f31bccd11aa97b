import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { ChannelSelect } from '../channels/channels';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { useDragging } from '../ui/dragging';
import { Menu, MenuItem } from '../ui/Menu';
import { Select } from '../ui/Select';
import { Sheet } from '../ui/Sheet';
import { Empty, Fetched } from '../ui/States';
import { useWorkspace } from '../workspaces/workspace';
import { Copying } from './Copying';
import { type Draft, given, moved, newSlot, span, stretched } from './draft';
import { EffectBar, EffectTable, useEffectOf } from './Effect';
import { RotaForm } from './RotaForm';
import { type Rota as RotaData, useHours, useRotas, useSaveRota, type WeekHour } from './rota';
import { Buoy } from './Shore';
import { SlotForm } from './SlotForm';
import { settingsOf, useDraft } from './useDraft';
import { type Load, type Place, WeekGrid } from './WeekGrid';

/** The recurring week, laid out by hand; several of them beside each other. */
export function Rota() {
  const rotas = useRotas();
  const [search, setSearch] = useSearchParams();
  return (
    <Fetched query={rotas} what="the rota">
      {(list) => {
        const rota = list.find((r) => r.id === search.get('rota')) ?? list[0];
        if (!rota) return null;
        return (
          <Laying
            key={rota.id}
            rota={rota}
            all={list}
            onChoose={(id, opens) => setSearch({ rota: id, ...(opens && { open: 'settings' }) })}
          />
        );
      }}
    </Fetched>
  );
}

function Laying({
  rota,
  all,
  onChoose,
}: {
  rota: RotaData;
  all: readonly RotaData[];
  onChoose: (id: string, opens?: boolean) => void;
}) {
  const draft = useDraft(rota);
  const [only, setOnly] = useState('');
  const [search] = useSearchParams();
  const [open, setOpen] = useState<string | 'rota' | null>(search.get('open') === 'settings' ? 'rota' : null);
  const [tried, setTried] = useState<readonly Draft[] | null>(null);
  const today = useWorkspace().data?.today ?? '';
  const hours = useHours(...(only ? [only] : [])).data?.hours ?? [];
  const landed = (load: Load, place: Place): readonly Draft[] | null => {
    if (load.kind === 'make') return null;
    if (load.kind === 'stretch') return stretched(draft.slots, load.key, load.day, place.day);
    return moved(draft.slots, load.key, load.day, place.day, place.time);
  };
  const make = (days: readonly number[], time: string) => {
    const slot = newSlot(days, time, only ? [only] : []);
    draft.set([...draft.slots, slot]);
    setOpen(slot.key);
  };
  useDragging({
    takes: isOurs,
    words: (load) => wordsOf(load),
    hover: (load, place) => isOurs(load) && setTried(isPlace(place) ? landed(load, place) : null),
    land: (load, place) => {
      setTried(null);
      if (!isOurs(load) || !isPlace(place)) return;
      if (load.kind === 'make') make(span(load.day, place.day), load.time);
      else draft.set(landed(load, place));
    },
  });
  useWish((wish) => {
    if (wish.kind === 'make') {
      setOnly(wish.channel ?? '');
      const slot = newSlot([wish.day], wish.time, wish.channel ? [wish.channel] : []);
      draft.set([...draft.slots, slot]);
      setOpen(slot.key);
    } else draft.set(given(draft.slots, wish.slot, wish.category));
  });
  const shown = tried ?? draft.slots;
  const asked = useEffectOf({ rota, draft, tried: shown });
  const chosen = draft.slots.find((slot) => slot.key === open);
  return (
    <>
      <Head rota={rota} all={all} onChoose={onChoose} onSettings={() => setOpen('rota')} only={only} setOnly={setOnly}>
        <Copying slots={draft.slots} set={draft.set} />
        <Button variant="primary" onClick={() => make([1], '09:00:00')}>
          Add a slot
        </Button>
      </Head>
      <EffectBar rota={rota} draft={draft} tried={shown} asked={asked} />
      {draft.slots.length === 0 && (
        <Empty title="The week is still blank">
          Press a place below, or drag across days, to lay out a slot: categories at a time, for some channels. It comes
          round every week; the rotation picks the post.
        </Empty>
      )}
      <HoursKey hours={hours} />
      <WeekGrid
        hours={hours}
        slots={only ? shown.filter((s) => s.channels.includes(only)) : shown}
        chosen={open}
        onOpen={setOpen}
        onMake={make}
        onChange={draft.set}
        all={draft.slots}
      />
      <EffectTable asked={asked} isChanged={draft.isChanged} slots={draft.slots} onMend={draft.set} />
      <Sheet open={open !== null} title={open === 'rota' ? 'The rota' : 'The slot'} onClose={() => setOpen(null)}>
        {open === 'rota' && <RotaForm rota={rota} all={all} onDone={() => setOpen(null)} onChosen={onChoose} />}
        {chosen && (
          <SlotForm
            key={chosen.key}
            slot={chosen}
            today={today}
            onChange={(slot) => draft.set(draft.slots.map((s) => (s.key === slot.key ? slot : s)))}
            onRemove={() => {
              draft.set(draft.slots.filter((s) => s.key !== chosen.key));
              setOpen(null);
            }}
          />
        )}
      </Sheet>
    </>
  );
}

type Wish =
  | { kind: 'make'; day: number; time: string; channel: string | null }
  | { kind: 'give'; slot: string; category: string };

/** What another view asks to be laid out here, once: it stands in the address and leaves it. */
function useWish(grant: (wish: Wish) => void) {
  const [search, setSearch] = useSearchParams();
  const isGranted = useRef(false);
  useEffect(() => {
    const [hour, slot, category] = [search.get('make'), search.get('slot'), search.get('give')];
    if (isGranted.current || (hour === null && category === null)) return;
    isGranted.current = true;
    const at = Number(hour);
    if (slot && category) grant({ kind: 'give', slot, category });
    else if (hour !== null && at >= 0 && at < 168) {
      const time = `${String(at % 24).padStart(2, '0')}:00:00`;
      grant({ kind: 'make', day: 1 + Math.floor(at / 24), time, channel: search.get('channel') });
    }
    const rota = search.get('rota');
    setSearch(rota ? { rota } : {}, { replace: true });
  }, [search, setSearch, grant]);
}

/** What the ground of the week says. */
function HoursKey({ hours }: { hours: readonly WeekHour[] }) {
  const hasOnline = hours.some((h) => h.online !== null);
  const hasResults = hours.some((h) => h.earned !== null);
  if (!hasOnline && !hasResults) return null;
  return (
    <p className="mb-2 flex flex-wrap gap-x-5 text-faded text-sm">
      {hasOnline && (
        <span className="inline-flex items-center gap-1.5">
          <svg aria-hidden="true" viewBox="0 0 24 12" className="h-3 w-6">
            <path d="M0 11C6 11 6 4 12 4s6 5 12 5v3H0Z" fill="var(--shore)" />
            <path d="M0 11C6 11 6 4 12 4s6 5 12 5" fill="none" stroke="var(--online)" strokeWidth="1.5" />
          </svg>
          along each day: the further out, the more followers online
        </span>
      )}
      {hasResults ? (
        <span className="inline-flex items-center gap-1.5">
          <Buoy />
          posts at this hour did better than usual
        </span>
      ) : (
        <span>no results yet: from followers online alone</span>
      )}
    </p>
  );
}

const isOurs = (load: unknown): load is Load =>
  typeof load === 'object' &&
  load !== null &&
  'kind' in load &&
  ['make', 'move', 'stretch'].includes(String(load.kind));
const isPlace = (place: unknown): place is Place => typeof place === 'object' && place !== null && 'day' in place;
const wordsOf = (load: unknown) =>
  isOurs(load)
    ? load.kind === 'make'
      ? 'A new slot'
      : load.kind === 'stretch'
        ? 'On these days too'
        : 'The slot'
    : '';

interface HeadProps {
  rota: RotaData;
  all: readonly RotaData[];
  onChoose: (id: string, opens?: boolean) => void;
  onSettings: () => void;
  only: string;
  setOnly: (channel: string) => void;
  children: React.ReactNode;
}

function Head({ rota, all, onChoose, onSettings, only, setOnly, children }: HeadProps) {
  const save = useSaveRota();
  const duplicate = () =>
    save.mutate(
      {
        id: null,
        edit: {
          ...settingsOf(rota),
          name: `${rota.name}, again`,
          version: null,
          replaces: null,
          slots: rota.slots.map(({ id: _, nextDates: __, ...slot }) => slot),
        },
      },
      { onSuccess: (saved) => onChoose(saved.rota.id) },
    );
  const today = useWorkspace().data?.today ?? '';
  const add = () =>
    save.mutate(
      {
        id: null,
        edit: {
          ...settingsOf(rota),
          name: freeName(all.map((r) => r.name)),
          version: null,
          replaces: null,
          from: today,
          to: addDays(today, 27),
          slots: [],
        },
      },
      { onSuccess: (saved) => onChoose(saved.rota.id, true) },
    );
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      <h1>The recurring week</h1>
      <div className="w-52">
        <Select
          aria-label="Rota"
          value={rota.id}
          options={all.map((r) => ({ value: r.id, label: r.name }))}
          onChange={(id) => onChoose(id)}
        />
      </div>
      <Button disabled={save.isPending || !today} onClick={add}>
        Add a rota
      </Button>
      <Menu label="More for this rota:" trigger="More ▾">
        <MenuItem onSelect={onSettings}>Name, dates, what it replaces</MenuItem>
        <MenuItem onSelect={duplicate}>Duplicate this rota</MenuItem>
      </Menu>
      <span className="text-faded text-sm">Times of {rota.zone}</span>
      <div className="ml-auto flex items-center gap-2">
        <div className="w-44">
          <ChannelSelect aria-label="Only this channel" none="All channels" value={only} onChange={setOnly} />
        </div>
        {children}
      </div>
    </div>
  );
}

/** A name for one more rota that none has. */
function freeName(taken: readonly string[]): string {
  for (let n = 2; ; n++) {
    const name = `Rota ${n}`;
    if (!taken.includes(name)) return name;
  }
}
