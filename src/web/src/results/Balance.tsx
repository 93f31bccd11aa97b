import { scaleLog } from 'd3-scale';
import { colourOf, useCategory } from '../categories/categories';
import { index } from './words';

/** Ratios from a fifth to fivefold, in per cent of the width; what lies beyond is drawn at the edge, as an arrow. */
const [least, most] = [0.2, 5];
const x = scaleLog().domain([least, most]).range([3, 97]).clamp(true);
const at = (ratio: number) => `${x(ratio)}%`;
const ticks = [0.25, 0.5, 1, 2, 4];
const height = 34;
const middle = height / 2;

/** The scale above the rows. */
export function BalanceHead({ middleWord = 'its share' }: { middleWord?: string }) {
  return (
    <span className="relative block h-5 font-normal text-faded text-xs" aria-hidden="true">
      {ticks.map((tick) => (
        <span key={tick} className="absolute -translate-x-1/2 whitespace-nowrap" style={{ left: at(tick) }}>
          {tick === 1 ? middleWord : tick < 1 ? `÷ ${1 / tick}` : `× ${tick}`}
        </span>
      ))}
    </span>
  );
}

export interface BalanceFigures {
  /** As it stands; left out: only the fair figure is drawn. */
  index?: number | null;
  adjusted: { value: number; low: number | null; high: number | null } | null;
}

/** What a category brings to what it takes: as it stands, a hollow ring; compared fairly, a full disc on its interval. */
export function CategoryBalance({ row }: { row: BalanceFigures & { categoryId: string } }) {
  return <Balance figures={row} colour={colourOf(useCategory(row.categoryId))} />;
}

export function Balance({ figures, colour }: { figures: BalanceFigures; colour: string }) {
  const { adjusted, index: raw = null } = figures;
  const words = [
    raw !== null && `As it stands ${index(raw)}`,
    adjusted && `${raw === null ? '' : 'compared fairly '}${index(adjusted.value)}`,
    adjusted?.low != null && `between ${index(adjusted.low)} and ${index(adjusted.high)}`,
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <svg className="block w-full overflow-visible" height={height} role="img" aria-label={words || 'No figures'}>
      <title>{words || 'No figures'}</title>
      {ticks.map((tick) => (
        <line
          key={tick}
          x1={at(tick)}
          x2={at(tick)}
          y1={-7}
          y2={height + 7}
          className={tick === 1 ? 'stroke-ink' : 'stroke-rule'}
          strokeWidth={tick === 1 ? 1.5 : 1}
        />
      ))}
      {adjusted && adjusted.low !== null && adjusted.high !== null && (
        <line
          x1={at(adjusted.low)}
          x2={at(adjusted.high)}
          y1={middle}
          y2={middle}
          stroke={colour}
          strokeWidth={5}
          strokeOpacity={0.45}
        />
      )}
      {adjusted && raw !== null && (
        <line
          x1={at(raw)}
          x2={at(adjusted.value)}
          y1={middle - 8}
          y2={middle}
          className="stroke-faded"
          strokeWidth={1}
        />
      )}
      {adjusted && <Mark ratio={adjusted.value} y={middle} r={7} fill={colour} />}
      {raw !== null && <Mark ratio={raw} y={adjusted ? middle - 8 : middle} r={4.5} fill="var(--paper)" />}
    </svg>
  );
}

/** Where it lies on the scale; beyond its ends, an arrow that points there. */
function Mark({ ratio, y, r, fill }: { ratio: number; y: number; r: number; fill: string }) {
  if (ratio >= least && ratio <= most)
    return <circle cx={at(ratio)} cy={y} r={r} fill={fill} className="stroke-ink" strokeWidth={1.5} />;
  return (
    <svg x={at(ratio)} y={y} overflow="visible" aria-hidden="true">
      <path
        d={ratio < least ? `M${-r - 1} 0 L${r} ${-r} V${r} Z` : `M${r + 1} 0 L${-r} ${-r} V${r} Z`}
        fill={fill}
        className="stroke-ink"
        strokeWidth={1.5}
      />
    </svg>
  );
}
