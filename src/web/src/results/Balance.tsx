import { scaleLog } from 'd3-scale';
import { colourOf, useCategory } from '../categories/categories';
import type { CategoryResult } from './results';
import { index } from './words';

const width = 300;
const height = 34;

/** Ratios from a fifth to fivefold; what lies beyond is drawn at the edge, with an arrow. */
const x = scaleLog()
  .domain([0.2, 5])
  .range([8, width - 8])
  .clamp(true);
const ticks = [0.25, 0.5, 1, 2, 4];

/** The scale above the rows. */
export function BalanceHead() {
  return (
    <svg viewBox={`0 0 ${width} 18`} className="block h-[18px] w-full overflow-visible" aria-hidden="true">
      {ticks.map((tick) => (
        <text key={tick} x={x(tick)} y={12} textAnchor="middle" className="fill-faded text-[11px]">
          {tick === 1 ? 'its share' : tick < 1 ? `÷ ${1 / tick}` : `× ${tick}`}
        </text>
      ))}
    </svg>
  );
}

/** What a category brings to what it takes: as it stands, a hollow ring; compared fairly, a full disc on its interval. */
export function Balance({ row }: { row: CategoryResult }) {
  const colour = colourOf(useCategory(row.categoryId));
  const middle = height / 2;
  const adjusted = row.adjusted;
  const beyond = adjusted !== null && (adjusted.high > 5 || adjusted.low < 0.2);
  const words =
    `As it stands ${index(row.index)}` +
    (adjusted
      ? `, compared fairly ${index(adjusted.value)}, between ${index(adjusted.low)} and ${index(adjusted.high)}`
      : '');
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="block w-full overflow-visible"
      role="img"
      aria-label={words}
      data-balance={row.categoryId}
    >
      <title>{words}</title>
      {ticks.map((tick) => (
        <line
          key={tick}
          x1={x(tick)}
          x2={x(tick)}
          y1={-6}
          y2={height + 6}
          className={tick === 1 ? 'stroke-ink' : 'stroke-rule'}
          strokeWidth={tick === 1 ? 1.5 : 1}
        />
      ))}
      {adjusted && (
        <>
          <line
            x1={x(adjusted.low)}
            x2={x(adjusted.high)}
            y1={middle}
            y2={middle}
            stroke={colour}
            strokeWidth={5}
            strokeOpacity={0.45}
            strokeDasharray={beyond ? '6 3' : undefined}
          />
          {row.index !== null && (
            <line
              x1={x(row.index)}
              x2={x(adjusted.value)}
              y1={middle - 8}
              y2={middle}
              className="stroke-faded"
              strokeWidth={1}
            />
          )}
          <circle cx={x(adjusted.value)} cy={middle} r={7} fill={colour} className="stroke-ink" strokeWidth={1.5} />
        </>
      )}
      {row.index !== null && (
        <circle
          cx={x(row.index)}
          cy={adjusted ? middle - 8 : middle}
          r={4.5}
          className="fill-paper stroke-ink"
          strokeWidth={1.5}
        />
      )}
    </svg>
  );
}
