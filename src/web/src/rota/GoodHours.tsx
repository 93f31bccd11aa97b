import { weekdayOf, weekdayWord } from '../time/dates';
import { useHours } from './rota';
import { Buoy } from './Shore';

const width = 24;

interface Props {
  channels: readonly string[];
  date: string;
  time: string;
  onTime: (time: string) => void;
  /** True: two halves of the day, one above the other. */
  narrow?: boolean;
}

/** The day of a date, hour by hour, as a shore: the higher the land, the more followers of these channels are online. */
export function GoodHours({ channels, date, time, onTime, narrow = false }: Props) {
  const week = useHours(...channels).data?.hours ?? [];
  const day = week.slice((weekdayOf(date) - 1) * width, weekdayOf(date) * width);
  if (day.length < width || day.every((h) => h.online === null && !h.isGood))
    return <p className="text-faded text-sm">These channels don’t tell when their followers are online.</p>;
  const chosen = Number(time.slice(0, 2));
  const best = [...day].sort((a, b) => (b.online ?? 0) - (a.online ?? 0)).slice(0, 2);
  return (
    <figure className={`flex gap-3 ${narrow ? 'flex-col' : 'items-end'}`} data-good-hours>
      <div className={`flex items-end ${narrow ? 'w-[288px] flex-wrap' : ''}`}>
        {day.map((h) => {
          const at = `${String(h.hour).padStart(2, '0')}:00`;
          return (
            <button
              key={h.hour}
              type="button"
              aria-label={`${h.hour} o’clock: ${onlineWords(h.online)}${h.isGood ? ', posts did better than usual' : ''}`}
              aria-pressed={h.hour === chosen}
              title={`${at}, ${onlineWords(h.online)}`}
              onClick={() => onTime(at)}
              className="group flex h-11 w-[24px] flex-col justify-end hover:bg-wash"
            >
              {h.isGood && (
                <span className="flex justify-center">
                  <Buoy />
                </span>
              )}
              <span
                className="block w-full border-(--online) border-t-[1.5px] bg-(--shore)"
                style={{ height: `${2 + (h.online ?? 0) * 20}px` }}
              />
              <span
                className={`font-head text-[0.66rem] leading-3 ${
                  h.hour === chosen ? 'bg-ink text-paper' : 'text-faded'
                }`}
              >
                {h.hour % 3 === 0 || h.hour === chosen ? h.hour : '\u00a0'}
              </span>
            </button>
          );
        })}
      </div>
      <figcaption className="max-w-48 text-faded text-sm leading-tight">
        {weekdayWord(date)}: most of their followers are online at{' '}
        {best
          .map((h) => h.hour)
          .sort((a, b) => a - b)
          .map((h) => `${h}:00`)
          .join(' and ')}
      </figcaption>
    </figure>
  );
}

const onlineWords = (online: number | null) =>
  online === null ? 'not known' : `${Math.round(online * 100)} % of the best hour’s followers online`;
