import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import type { PostTime } from '../lineup/cards';
import { dropTime } from '../lineup/moving';
import { useHours } from '../rota/rota';
import { Shore } from '../rota/Shore';
import { weekdayOf } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';
import { useLook } from './look';
import { PostCard } from './PostCard';

const hours = Array.from({ length: 24 }, (_, hour) => hour);
const oClock = (hour: number) => `${String(hour).padStart(2, '0')}:00`;

/** Before this hour, a day with nothing in it begins by a press. */
const morning = 7;

/** A day by the hour, with the shore of its good hours along the edge. The hours before the first post are one line until it is pressed. */
export function DayHours({
  day,
  cards,
  channels,
}: {
  day: string;
  cards: readonly PostTime[];
  channels: readonly string[];
}) {
  const { begin } = useLook();
  const { to } = useWorkspacePath();
  const week = useHours(...channels).data?.hours ?? [];
  const shore = week.slice((weekdayOf(day) - 1) * 24, weekdayOf(day) * 24);
  const byHour = Map.groupBy(cards, (c) => Number(c.time.slice(0, 2)));
  const [isWhole, setWhole] = useState(false);
  const first = isWhole ? 0 : (hours.find((hour) => byHour.has(hour)) ?? morning);
  return (
    <div className="grid grid-cols-[3rem_1.4rem_minmax(0,1fr)] border-ink border-y-[1.5px]">
      {first > 0 && (
        <button
          type="button"
          className="col-span-3 min-h-[24px] px-1 text-left text-faded text-sm hover:bg-wash print:hidden"
          onClick={() => setWhole(true)}
        >
          Nothing from 00:00 to {oClock(first)}. <span className="underline underline-offset-3">Show these hours</span>
        </button>
      )}
      {hours.slice(first).map((hour) => {
        const at = oClock(hour);
        const of = byHour.get(hour) ?? [];
        const write = begin(day, { time: at });
        return (
          <Fragment key={hour}>
            <span
              className={`border-rule border-t pt-0.5 pr-2 text-right font-head text-sm ${of.length > 0 ? 'font-semibold' : 'text-faded'}`}
            >
              {at}
            </span>
            <span className="relative border-rule border-t">
              <Shore hour={shore[hour]} before={shore[hour - 1]} after={shore[hour + 1]} />
            </span>
            <div
              ref={dropTime(day, `${at}:00`)}
              data-cell={day}
              data-hour={hour}
              className="group flex min-h-7 flex-col gap-px border-rule border-t border-l p-0.5 data-over:bg-dawn-wash"
            >
              {of.map((card) => (
                <PostCard key={card.key} card={card} as="wide" />
              ))}
              {write && (
                <Link
                  to={to(write)}
                  aria-label={`Write a post for ${at}`}
                  className="inline-flex min-h-[24px] items-center px-2 text-faded text-sm opacity-0 pointer-coarse:opacity-100 focus-visible:opacity-100 group-hover:opacity-100 print:hidden"
                >
                  + write a post for {at}
                </Link>
              )}
            </div>
          </Fragment>
        );
      })}
    </div>
  );
}
