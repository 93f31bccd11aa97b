import { useState } from 'react';
import { CategoryName, colourOf, Monogram, useCategories } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { clock, weekdayNames } from '../time/dates';
import { Button } from '../ui/Button';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import { type Column, Table } from '../ui/Table';
import { Apply } from './Apply';
import type { Draft } from './draft';
import { changeWords, Differs, figures, type Line, lineOf, percent, useScheduled, Was } from './figures';
import { type Rota, type RotaEdit, useWhatIf, type WhatIf, whole } from './rota';

interface Props {
  rota: Rota;
  draft: {
    isChanged: boolean;
    set: (slots: readonly Draft[] | null) => void;
    edit: (of?: readonly Draft[]) => RotaEdit;
  };
  /** What is laid out at this moment, what is under the pointer included. */
  tried: readonly Draft[];
}

/** Milliseconds that a layout stands before it is asked about. */
const pause = 90;

/** What the layout leads to over the coming weeks. One asking serves the bar over the week and the table below it. */
export function useEffectOf({ rota, draft, tried }: Props) {
  const [weeks, setWeeks] = useState('12');
  const complete = tried.filter((s) => s.channels.length > 0 && (s.rhythm === 'days' || s.days.length > 0));
  const edit = useScheduled(whole(draft.edit(complete)), pause);
  return { whatIf: useWhatIf({ rotas: [{ id: rota.id, rota: edit }] }, Number(weeks)), weeks, setWeeks };
}

type Asked = ReturnType<typeof useEffectOf>;

/** In sight while slots are dragged: each category's share and what it lacks; then the change is applied or dropped. */
export function EffectBar({ rota, draft, tried, asked }: Props & { asked: Asked }) {
  const { data } = asked.whatIf;
  const { tell } = useNotices();
  const unfinished = tried.filter((s) => s.channels.length === 0).length;
  return (
    <section aria-label="Effect of the layout" className="sticky top-(--head) z-10 bg-paper pb-2">
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
        {data?.after.categories.map((after) => (
          <li key={after.categoryId} data-share={after.categoryId}>
            <Chip line={lineOf(data, after, draft.isChanged)} />
          </li>
        ))}
      </ul>
      <FormError error={asked.whatIf.error} />
      {draft.isChanged && (
        <div className="mt-2 flex flex-wrap items-center gap-3 border-dawn border-l-4 bg-dawn-wash px-3 py-1.5">
          <p role="status" className="flex-1">
            {data && changeWords(data)}
            {unfinished > 0 && ` ${unfinished === 1 ? 'One slot has' : `${unfinished} slots have`} no channel yet.`}
          </p>
          <Button
            onClick={() => {
              const slots = tried;
              draft.set(null);
              tell('The changes are dropped.', { label: 'Bring them back', run: () => draft.set(slots) });
            }}
          >
            Drop the changes
          </Button>
          <Apply rotaId={rota.id} edit={draft.edit} disabled={unfinished > 0} onDone={() => draft.set(null)} />
        </div>
      )}
    </section>
  );
}

/** A category in a few figures: its share, its empty places. */
function Chip({ line }: { line: Line }) {
  const category = useCategories().data?.find((c) => c.id === line.id);
  const empty = line.after.runway?.empty ?? 0;
  return (
    <span className="inline-flex items-center gap-1.5" title={category?.name}>
      <Monogram category={category} />
      <span className="font-head">
        <Was line={line} of={(c) => percent(c.share)} />
      </span>
      {line.after.targetShare !== null && <span className="text-faded">of {percent(line.after.targetShare)}</span>}
      {empty > 0 && <span className="text-bad">{empty} empty</span>}
    </span>
  );
}

interface TableProps {
  asked: Asked;
  isChanged: boolean;
  slots: readonly Draft[];
  /** Takes a layout that ends a clash. */
  onMend: (slots: readonly Draft[]) => void;
}

export function EffectTable({ asked, ...rest }: TableProps) {
  return (
    <section aria-label="What this leads to" className="mt-5 border-ink border-t-[1.5px] pt-3">
      <div className="mb-2 flex flex-wrap items-center gap-4">
        <h2>What this leads to</h2>
        <div className="w-40">
          <Select
            aria-label="How far ahead"
            value={asked.weeks}
            options={['4', '8', '12', '26'].map((w) => ({ value: w, label: `over ${w} weeks` }))}
            onChange={asked.setWeeks}
          />
        </div>
      </div>
      {asked.whatIf.data && <Outlook whatIf={asked.whatIf.data} {...rest} />}
    </section>
  );
}

function Outlook({ whatIf, isChanged, slots, onMend }: { whatIf: WhatIf } & Omit<TableProps, 'asked'>) {
  const lines = whatIf.after.categories.map((after) => lineOf(whatIf, after, isChanged));
  const columns: readonly Column<Line>[] = [
    { name: 'Category', names: true, show: (l) => <CategoryName id={l.id} /> },
    { name: 'Share', show: (l) => <Share line={l} /> },
    ...figures.map(
      ({ name, title, of }): Column<Line> => ({
        name,
        ...(title && { title }),
        figure: true,
        show: (l) => <Was line={l} of={(c) => of(c, whatIf.weeks)} />,
      }),
    ),
  ];
  const sameHour = lines.filter((l) => l.after.alwaysAt !== null);
  return (
    <>
      <Table caption="Each category" columns={columns} rows={lines} keyOf={(l) => l.id} />
      <Channels whatIf={whatIf} isChanged={isChanged} />
      {sameHour.map((l) => (
        <p key={l.id} className="mt-2 text-sm">
          <CategoryName id={l.id} /> always goes out at the same hour, {String(l.after.alwaysAt).padStart(2, '0')}:00 to{' '}
          {String(Number(l.after.alwaysAt) + 1).padStart(2, '0')}:00.
        </p>
      ))}
      {whatIf.after.clashes.length > 0 && (
        <div className="mt-3 text-sm">
          <b>
            {timesOf(whatIf.after)} {timesOf(whatIf.after) === 1 ? 'clash' : 'clashes'}
            {isChanged && timesOf(whatIf.before) !== timesOf(whatIf.after) && ` (${timesOf(whatIf.before)} now)`}
          </b>
          <ul className="ruled mt-1">
            {whatIf.after.clashes.map((clash) => (
              <ClashLine
                key={[clash.kind, clash.channelId, clash.with, clash.slotId, clash.otherSlotId].join(' ')}
                clash={clash}
                slots={slots}
                onMend={onMend}
              />
            ))}
          </ul>
        </div>
      )}
    </>
  );
}

type OnChannel = WhatIf['after']['channels'][number];

/** What reaches each channel: how much a week, and how much of it was there before. */
function Channels({ whatIf, isChanged }: { whatIf: WhatIf; isChanged: boolean }) {
  const both = (show: (channel: OnChannel) => string) => (after: OnChannel) => {
    const before = isChanged ? whatIf.before.channels.find((c) => c.channelId === after.channelId) : undefined;
    return <Differs before={before && show(before)} after={show(after)} />;
  };
  const columns: readonly Column<OnChannel>[] = [
    { name: 'Channel', names: true, show: (c) => <ChannelName id={c.channelId} /> },
    { name: 'A week', figure: true, title: 'Fewest and most in a week', show: both((c) => range(c.aWeek)) },
    {
      name: 'Repeats',
      figure: true,
      title: 'Share of its deliveries',
      show: both((c) => (c.shareOfRepeats === null ? '–' : percent(c.shareOfRepeats))),
    },
    { name: 'Empty', figure: true, title: 'Places with nothing to send there', show: both((c) => String(c.empty)) },
  ];
  return (
    <div className="mt-5">
      <Table caption="Each channel" columns={columns} rows={whatIf.after.channels} keyOf={(c) => c.channelId} />
    </div>
  );
}

function range(weeks: readonly number[]): string {
  const [least, most] = [Math.min(...weeks), Math.max(...weeks)];
  return least === most ? String(most) : `${least} to ${most}`;
}

type Clash = WhatIf['after']['clashes'][number];

const timesOf = (outlook: WhatIf['after']) => outlook.clashes.reduce((sum, clash) => sum + clash.times, 0);

const clashWords: Record<Clash['kind'], string> = {
  tooClose: 'gets two deliveries closer than its spacing',
  tooMany: 'gets more deliveries on a day than its limit',
  sameTextWithinTheHour: 'gets a post within an hour of',
};

/** What is in each other's way, where that comes from, and what ends it. */
function ClashLine({
  clash,
  slots,
  onMend,
}: {
  clash: Clash;
  slots: readonly Draft[];
  onMend: (slots: readonly Draft[]) => void;
}) {
  const find = (id: string | null) => slots.find((s) => s.id === id);
  const [slot, other] = [find(clash.slotId), find(clash.otherSlotId)];
  const { mend } = clash;
  const mended = mend && find(mend.slotId);
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5" data-clash={clash.kind}>
      <span>
        <ChannelName id={clash.channelId} /> {clashWords[clash.kind]}
        {clash.with && (
          <>
            {' '}
            <ChannelName id={clash.with} />
          </>
        )}
        {clash.times > 1 && `, ${clash.times} times`}
        {slot && (other && other !== slot ? `: ${slotWords(other)} and ${slotWords(slot)}` : `: ${slotWords(slot)}`)}.
      </span>
      {mend && mended && (
        <Button
          onClick={() =>
            onMend(
              slots.map((s) =>
                s !== mended
                  ? s
                  : { ...s, time: mend.time ?? s.time, channels: s.channels.filter((c) => c !== mend.without) },
              ),
            )
          }
        >
          {mend.time ? (
            `Move it to ${clock(mend.time)}`
          ) : (
            <>
              Leave out <ChannelName id={mend.without ?? ''} />
            </>
          )}
        </Button>
      )}
    </li>
  );
}

const slotWords = (slot: Draft) =>
  `the slot at ${clock(slot.time)}, ${slot.rhythm === 'days' ? `every ${slot.every} days` : slot.days.map((d) => weekdayNames[d - 1]?.slice(0, 3)).join(', ')}`;

/** The share as a bar; a notch stands at the target. */
function Share({ line }: { line: Line }) {
  const colour = colourOf(useCategories().data?.find((c) => c.id === line.id));
  const target = line.after.targetShare;
  return (
    <span className="flex items-center gap-2">
      <span aria-hidden="true" className="relative block h-3 w-28 border-rule-strong border-b">
        <span
          className="absolute inset-y-0 left-0"
          style={{ width: `${line.after.share * 100}%`, background: colour }}
        />
        {target !== null && (
          <span className="absolute -top-0.5 h-4 border-ink border-l-2" style={{ left: `${target * 100}%` }} />
        )}
      </span>
      <span className="font-head">
        <Was line={line} of={(c) => percent(c.share)} />
      </span>
      {target !== null && <span className="text-faded text-xs">of {percent(target)}</span>}
    </span>
  );
}
