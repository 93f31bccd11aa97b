import type { WeekHour } from './rota';

/** Width of the water along a day's edge, in the shore's own units. */
const water = 20;
/** No hour's shore lies nearer to the edge: it can be followed through the night. */
const least = 2;

interface Props {
  hour: WeekHour | undefined;
  before: WeekHour | undefined;
  after: WeekHour | undefined;
}

/**
 * One hour of the shoreline along a day's edge: the further the land reaches out, the more followers are online; a buoy lies where
 * posts did better than usual. Hours differ in height, so each draws its own stretch, and meets its neighbours half-way.
 */
export function Shore({ hour, before, after }: Props) {
  if (!hour || (hour.online === null && !hour.isGood)) return null;
  const [top, middle, bottom] = [between(before, hour), reach(hour), between(hour, after)];
  const coast = `M${water - top} 0C${water - top} 25 ${water - middle} 25 ${water - middle} 50S${water - bottom} 75 ${water - bottom} 100`;
  return (
    <span
      title={wordsFor(hour)}
      data-online={hour.online?.toFixed(2)}
      data-good={hour.isGood || undefined}
      className="absolute inset-y-0 right-0 w-5"
    >
      {hour.online !== null && (
        <svg aria-hidden="true" viewBox={`0 0 ${water} 100`} preserveAspectRatio="none" className="h-full w-full">
          <path d={`${coast}L${water} 100V0Z`} fill="var(--shore)" />
          <path d={coast} fill="none" stroke="var(--online)" strokeWidth="1.25" vectorEffect="non-scaling-stroke" />
        </svg>
      )}
      {hour.isGood && (
        <span className="absolute inset-y-0 left-0 flex items-center">
          <Buoy />
        </span>
      )}
    </span>
  );
}

/** Marks an hour at which posts did better than usual. */
export const Buoy = () => (
  <svg aria-hidden="true" viewBox="0 0 10 12" className="h-3 w-2.5">
    <path d="M5 1.5 8.5 10.5h-7Z" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.2" strokeLinejoin="round" />
    <path d="M3.4 6.4h3.2l1.1 2.8H2.3Z" fill="var(--ink)" />
  </svg>
);

const reach = (hour: WeekHour | undefined) => least + (hour?.online ?? 0) * (water - least - 1);
const between = (one: WeekHour | undefined, other: WeekHour | undefined) =>
  one && other ? (reach(one) + reach(other)) / 2 : reach(one ?? other);

function wordsFor(hour: WeekHour): string {
  return [
    hour.online !== null && `${Math.round(hour.online * 100)} % of the followers of the best hour online`,
    hour.earned !== null && hour.hasEnough && `posts earned ${hour.earned.toFixed(2)} × the usual (${hour.deliveries})`,
  ]
    .filter(Boolean)
    .join('; ');
}
