import { useQuery } from '@tanstack/react-query';
import { type MouseEvent, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, ask, type Schemas } from '../api/client';
import { type Category, colourOf, Monogram, useCategories } from '../categories/categories';
import { isForm } from '../deliveries/states';
import { KeyDateRow } from '../keydates/KeyDateRow';
import { addDays, mondayOf, monthWord, shortDay } from '../time/dates';
import { Empty, Fetched, Renewing } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Filters } from './filters';

type Week = Schemas['WeekDensity'];

function useDensity(from: string, to: string, filters: Filters, channels: readonly string[] | null) {
  const { id, path } = useWorkspacePath();
  const query = {
    from,
    to,
    ...(channels && { channels: [...channels] }),
    ...(filters.category.length > 0 && { categories: [...filters.category] }),
    ...(filters.rota.length > 0 && { rotas: [...filters.rota] }),
    ...(filters.state.length > 0 && { states: filters.state.filter(isForm) }),
    ...(filters.approval.length > 0 && { approval: filters.approval.filter((a) => a === 'waits' || a === 'none') }),
    ...(filters.finding.length > 0 && {
      findings: filters.finding.filter((f) => f === 'trouble' || f === 'warned'),
    }),
    ...(filters.text && { text: filters.text }),
  };
  return useQuery({
    queryKey: ['lineUp', id, 'density', query],
    enabled: channels?.length !== 0,
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/line-up/density', { params: { path, query } })),
  });
}

interface Props {
  from: string;
  to: string;
  today: string;
  filters: Filters;
  /** Those that are let through; null: all. */
  channels: readonly string[] | null;
}

/** A year at a glance: a ribbon for each category, as broad in each week as it goes out often. */
export function Year({ from, to, today, filters, channels }: Props) {
  const density = useDensity(from, to, filters, channels);
  const categories = useCategories().data ?? [];
  // A channel and a group that it isn't in: nothing is of both.
  if (channels?.length === 0) return <NothingThen />;
  return (
    <Fetched query={density} what="the year">
      {({ weeks }) =>
        weeks.length === 0 ? (
          <NothingThen />
        ) : (
          <Renewing renewing={density.isPlaceholderData}>
            <Ribbons from={from} to={to} today={today} weeks={weeks} categories={categories} />
          </Renewing>
        )
      }
    </Fetched>
  );
}

const NothingThen = () => (
  <Empty title="Nothing goes out in this year">Go on to another, or choose less strictly.</Empty>
);

const all = (week: Week) => week.sent + week.coming + week.stopped;
const sum = (weeks: readonly Week[], of: (week: Week) => number) => weeks.reduce((total, w) => total + of(w), 0);

interface RibbonsProps {
  from: string;
  to: string;
  today: string;
  weeks: readonly Week[];
  categories: readonly Category[];
}

function Ribbons({ from, to, today, weeks, categories }: RibbonsProps) {
  const { to: address } = useWorkspacePath();
  const navigate = useNavigate();
  const [at, setAt] = useState<string | null>(null);
  const mondays: string[] = [];
  for (let monday = mondayOf(from); monday <= to; monday = addDays(monday, 7)) mondays.push(monday);
  const byCategory = Map.groupBy(weeks, (w) => w.categoryId ?? '');
  const rows = [...categories.map((c) => c.id), ''].flatMap((id) => {
    const of = byCategory.get(id);
    return of ? [{ id, category: categories.find((c) => c.id === id), weeks: of }] : [];
  });
  const most = Math.max(1, ...weeks.map((w) => all(w) + w.empty));
  const byWeek = Map.groupBy(weeks, (w) => w.week);
  const nowAt = mondays.indexOf(mondayOf(today));
  return (
    <>
      <div className="grid grid-cols-[9rem_minmax(0,1fr)_7.5rem] items-center">
        <span />
        <div className="flex items-end border-ink border-b-[1.5px]">
          {[...Map.groupBy(mondays, (monday) => monthOf(monday, from, to))].map(([month, of]) => (
            <Link
              key={month}
              to={address(`calendar?view=month&on=${month}-01`)}
              aria-label={`${monthWord(`${month}-01`)}: open the month`}
              style={{ flexGrow: of.length, flexBasis: 0 }}
              className="flex h-8 min-w-0 items-end border-ink border-l pl-1 font-head text-sm hover:bg-wash"
            >
              {monthWord(`${month}-01`)}
            </Link>
          ))}
        </div>
        <span className="pl-3 text-faded text-sm">in the year</span>
        <KeyDateRow mondays={mondays} />
        {rows.map(({ id, category, weeks: of }) => (
          <Ribbon
            key={id}
            category={category}
            weeks={of}
            mondays={mondays}
            most={most}
            at={at}
            nowAt={nowAt}
            onPoint={setAt}
            onOpen={(monday) => navigate(address(`calendar?week=${monday}`))}
          />
        ))}
      </div>
      <p className="mt-3 text-faded text-sm">
        {at
          ? `Week of ${shortDay(at)}: ${words(byWeek.get(at) ?? [], categories)}`
          : 'Point at a week to see what falls together in it; press it to open it. Hollow: places with nothing to send.'}
      </p>
      <details className="mt-3">
        <summary className="cursor-pointer">Week by week</summary>
        <table className="mt-2">
          <caption className="sr-only">Deliveries of each category by week</caption>
          <thead className="border-ink border-b-[1.5px] text-sm">
            <tr>
              <th scope="col" className="pr-6 text-left">
                Week of
              </th>
              {rows.map(({ id, category }) => (
                <th key={id} scope="col" className="px-3 text-right font-normal">
                  {category?.name ?? 'kept free'}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {mondays.map((monday) => (
              <tr key={monday} className="border-rule border-b">
                <th scope="row" className="pr-6 text-left font-normal">
                  <Link
                    to={address(`calendar?week=${monday}`)}
                    data-week={monday}
                    className="link inline-flex min-h-[24px] items-center"
                  >
                    {shortDay(monday)}
                  </Link>
                </th>
                {rows.map(({ id, weeks: of }) => {
                  const week = of.find((w) => w.week === monday);
                  return (
                    <td key={id} className="px-3 text-right">
                      {week ? `${all(week)}${week.empty > 0 ? `, ${week.empty} empty` : ''}` : '–'}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}

/** The month that a week is shown under: that of its Thursday, within the year. */
const monthOf = (monday: string, from: string, to: string) => {
  const thursday = addDays(monday, 3);
  return (thursday < from ? from : thursday > to ? to : thursday).slice(0, 7);
};

const words = (weeks: readonly Week[], categories: readonly Category[]) =>
  weeks.length === 0
    ? 'nothing at all.'
    : weeks
        .map((w) => {
          const name = categories.find((c) => c.id === w.categoryId)?.name ?? 'kept free';
          return `${name} ${all(w)}${w.empty > 0 ? ` and ${w.empty} empty` : ''}`;
        })
        .join(', ');

const height = 46;

interface RibbonProps {
  category: Category | undefined;
  weeks: readonly Week[];
  mondays: readonly string[];
  most: number;
  at: string | null;
  nowAt: number;
  onPoint: (monday: string | null) => void;
  onOpen: (monday: string) => void;
}

function Ribbon({ category, weeks, mondays, most, at, nowAt, onPoint, onOpen }: RibbonProps) {
  const weekUnder = (event: MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return mondays[Math.floor(((event.clientX - box.left) / box.width) * mondays.length)];
  };
  const byWeek = new Map(weeks.map((w) => [w.week, w]));
  const scale = (count: number) => (count / most) * (height - 4);
  const gap = longestGap(mondays.map((m) => (byWeek.has(m) && all(byWeek.get(m) as Week) > 0 ? m : null)));
  const total = sum(weeks, all);
  return (
    <>
      <span className="flex items-center truncate border-rule border-b text-sm" style={{ height }}>
        {category ? (
          <span className="inline-flex items-center gap-1.5">
            <Monogram category={category} /> {category.name}
          </span>
        ) : (
          <span className="text-faded">kept free</span>
        )}
      </span>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: by keys, weeks are opened from the table below */}
      <svg
        role="img"
        onMouseMove={(event) => onPoint(weekUnder(event) ?? null)}
        onMouseLeave={() => onPoint(null)}
        onClick={(event) => {
          const monday = weekUnder(event);
          if (monday) onOpen(monday);
        }}
        aria-label={`${category?.name ?? 'Kept free'}: ${total} in the year`}
        viewBox={`0 0 ${mondays.length} ${height}`}
        preserveAspectRatio="none"
        className="w-full cursor-pointer border-rule border-b"
        style={{ height }}
      >
        {at && <rect x={mondays.indexOf(at)} y="0" width="1" height={height} fill="var(--dawn-wash)" />}
        <line
          x1="0"
          x2={mondays.length}
          y1={height / 2}
          y2={height / 2}
          stroke="var(--rule)"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
        {mondays.map((monday, i) => {
          const week = byWeek.get(monday);
          if (!week) return null;
          const full = scale(all(week));
          const hollow = scale(all(week) + week.empty);
          return (
            <g key={monday} data-density={all(week)}>
              {week.empty > 0 && (
                <rect
                  x={i + 0.14}
                  y={(height - hollow) / 2}
                  width="0.72"
                  height={hollow}
                  fill="none"
                  stroke={colourOf(category)}
                  strokeWidth="1"
                  vectorEffect="non-scaling-stroke"
                />
              )}
              <rect x={i + 0.08} y={(height - full) / 2} width="0.84" height={full} fill={colourOf(category)} />
              {week.stopped > 0 && <rect x={i + 0.08} y={height - 3} width="0.84" height="3" fill="var(--bad)" />}
            </g>
          );
        })}
        {nowAt >= 0 && (
          <line
            x1={nowAt + 0.5}
            x2={nowAt + 0.5}
            y1="0"
            y2={height}
            stroke="var(--dawn)"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      <span className="flex flex-col justify-center border-rule border-b pl-3 text-sm leading-tight" style={{ height }}>
        <b className="font-head" data-total={category?.id ?? ''}>
          {total}
        </b>
        {gap && (
          <span
            className="block truncate text-[0.7rem] text-faded"
            title={`Nothing for ${gap.weeks} weeks from ${shortDay(gap.from)}`}
          >
            {gap.weeks} weeks without, {shortDay(gap.from)}
          </span>
        )}
      </span>
    </>
  );
}

/** The longest stretch of weeks without any, between the first and the last with some; null: there is none of more than two weeks. */
export function longestGap(weeks: readonly (string | null)[]): { from: string; weeks: number } | null {
  let [best, last] = [null as { from: string; weeks: number } | null, -1];
  weeks.forEach((week, i) => {
    if (week === null) return;
    const before = weeks[last];
    if (last >= 0 && before && i - last - 1 > Math.max(2, best?.weeks ?? 0))
      best = { from: addDays(before, 7), weeks: i - last - 1 };
    last = i;
  });
  return best;
}
