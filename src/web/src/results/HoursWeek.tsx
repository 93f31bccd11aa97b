import { useState } from 'react';
import { Link } from 'react-router';
import { ChannelSelect } from '../channels/channels';
import { useHours, type WeekHour } from '../rota/rota';
import { Buoy } from '../rota/Shore';
import { weekdayNames } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';
import { times, whole } from './words';

const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
const strip = { width: 480, height: 40 };
const best = 6;

const bases = {
  comparison: 'A buoy: posts did better then than such posts do there at other hours, all else alike.',
  median: 'A buoy: posts did better then than usual there. There are too few yet to compare hours fairly.',
  none: 'There are no results yet: this is from followers online alone.',
} as const;

/** The week of a channel as seven coasts: the higher the land, the more followers are online; a buoy where posts did better. */
export function HoursWeek() {
  const [channel, setChannel] = useState('');
  const { to } = useWorkspacePath();
  const view = useHours(...(channel ? [channel] : [])).data;
  if (!view) return null;
  const slotAt = (hour: WeekHour) => to(`rota?make=${view.hours.indexOf(hour)}${channel ? `&channel=${channel}` : ''}`);
  const good = [...view.hours]
    .filter((h) => h.isGood || (view.basis === 'none' && h.online !== null))
    .sort((a, b) => (b.worth ?? 0) - (a.worth ?? 0))
    .slice(0, best);
  return (
    <section className="mt-8">
      <h2 className="mb-1">Good hours</h2>
      <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1">
        <div className="w-56">
          <ChannelSelect aria-label="Channel" none="All channels" value={channel} onChange={setChannel} />
        </div>
        <p className="max-w-[70ch] text-faded text-sm">
          Along each day: the higher the land, the more followers online. {bases[view.basis]} Hours of {view.zone}.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_22rem] gap-x-10 max-[1100px]:grid-cols-1">
        <div aria-hidden="true">
          {weekdayNames.map((name, day) => (
            <Coast key={name} name={name} hours={view.hours.slice(day * 24, day * 24 + 24)} />
          ))}
          <div className="ml-12 flex justify-between font-head text-faded text-xs">
            {[0, 3, 6, 9, 12, 15, 18, 21, 24].map((h) => (
              <span key={h} className="w-4 text-center first:-ml-2 last:-mr-2">
                {h}
              </span>
            ))}
          </div>
        </div>
        <div>
          {good.length === 0 ? (
            <p className="text-faded">No hour stands out, and these channels don’t tell when followers are online.</p>
          ) : (
            <table className="w-full text-left text-sm">
              <caption className="mb-1 text-left font-semibold">
                {view.basis === 'none' ? 'Most followers online' : 'The best hours'}
              </caption>
              <tbody>
                {good.map((h) => (
                  <tr key={`${h.day} ${h.hour}`} className="border-rule border-t" data-good-hour={`${h.day} ${h.hour}`}>
                    <th scope="row" className="py-1.5 pr-2 font-normal">
                      <b>
                        {weekdays[Math.floor(view.hours.indexOf(h) / 24)]}, {h.hour}:00
                      </b>
                      <span className="block text-faded">{wordsOf(h)}</span>
                    </th>
                    <td className="whitespace-nowrap text-right">
                      <Link className="link" to={slotAt(h)}>
                        Make a slot here
                      </Link>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      </div>
      <AllHours hours={view.hours} />
    </section>
  );
}

/** All hours of the week as a table: what was earned in each beside the usual, and followers online. */
function AllHours({ hours }: { hours: readonly WeekHour[] }) {
  return (
    <details className="mt-3">
      <summary className="cursor-pointer">All hours of the week</summary>
      <table className="mt-2 text-sm">
        <caption className="mb-1 text-left text-faded">
          Times the usual (deliveries), then followers online in % of the most; – is not known.
        </caption>
        <thead className="border-ink border-b-[1.5px]">
          <tr>
            <th scope="col" className="pr-4 text-left font-normal">
              Hour
            </th>
            {weekdays.map((day) => (
              <th key={day} scope="col" className="px-3 text-right font-normal">
                {day}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {hours.slice(0, 24).map(({ hour }) => (
            <tr key={hour} className="border-rule border-b">
              <th scope="row" className="pr-4 text-left font-normal">
                {hour}:00
              </th>
              {weekdays.map((day, d) => {
                const h = hours[d * 24 + hour];
                return (
                  <td key={day} className="whitespace-nowrap px-3 text-right">
                    {h && h.earned !== null ? `${times(h.earned)} (${whole(h.deliveries)})` : '–'}
                    {h && h.online !== null && ` · ${Math.round(h.online * 100)} %`}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

const wordsOf = (h: WeekHour) =>
  [
    h.isGood && h.earned !== null && `${times(h.earned)} times the usual, ${whole(h.deliveries)} deliveries`,
    h.online !== null && `followers online: ${Math.round(h.online * 100)} % of the most`,
  ]
    .filter(Boolean)
    .join('; ');

function Coast({ name, hours }: { name: string; hours: readonly WeekHour[] }) {
  const x = (i: number) => ((i + 0.5) / 24) * strip.width;
  const y = (h: WeekHour) => strip.height - 2 - (h.online ?? 0) * (strip.height - 16);
  const tells = hours.some((h) => h.online !== null);
  const coast = hours
    .map((h, i) => {
      const before = hours[i - 1];
      if (!before) return `M0 ${y(h)} L${x(0)} ${y(h)}`;
      const middle = (x(i - 1) + x(i)) / 2;
      return `C${middle} ${y(before)} ${middle} ${y(h)} ${x(i)} ${y(h)}`;
    })
    .join(' ');
  const last = hours[hours.length - 1];
  return (
    <div className="grid grid-cols-[3rem_minmax(0,1fr)] items-end border-rule border-b">
      <span className="pb-0.5 text-faded text-sm">{name}</span>
      <div className="relative h-10">
        {tells && last && (
          <svg
            aria-hidden="true"
            viewBox={`0 0 ${strip.width} ${strip.height}`}
            preserveAspectRatio="none"
            className="h-full w-full"
          >
            <path d={`${coast} L${strip.width} ${y(last)} V${strip.height} H0 Z`} fill="var(--shore)" />
            <path
              d={`${coast} L${strip.width} ${y(last)}`}
              fill="none"
              stroke="var(--online)"
              strokeWidth="1.5"
              vectorEffect="non-scaling-stroke"
            />
          </svg>
        )}
        {hours.map(
          (h, i) =>
            h.isGood && (
              <span
                key={h.hour}
                className="absolute -translate-x-1/2"
                style={{ left: `${((i + 0.5) / 24) * 100}%`, bottom: `${strip.height - y(h) - 3}px` }}
                title={wordsOf(h)}
              >
                <Buoy />
              </span>
            ),
        )}
      </div>
    </div>
  );
}
