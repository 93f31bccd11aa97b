import { scaleLinear } from 'd3-scale';
import { type Category, colourOf, useCategories } from '../categories/categories';
import { palette } from '../categories/palette';
import type { CategoryResult } from './results';
import { share } from './words';

const width = 1000;
const strip = 30;
const height = 148;
const x = scaleLinear().domain([0, 1]).range([0, width]);

interface Band {
  row: CategoryResult;
  category: Category | undefined;
  top: [number, number];
  foot: [number, number];
}

/** At one glance: above, what each category takes of all that goes out; below, what it brings. A band that widens earns more than it takes. */
export function Ribbons({ rows }: { rows: readonly CategoryResult[] }) {
  const categories = useCategories().data ?? [];
  const bands: Band[] = [];
  let [taken, brought] = [0, 0];
  // In the workspace's own order, so that a category keeps its place whatever it earned.
  const place = (row: CategoryResult) => categories.findIndex((c) => c.id === row.categoryId);
  for (const row of [...rows].sort((a, b) => place(a) - place(b))) {
    const top: [number, number] = [taken, taken + (row.shareOfDeliveries ?? 0)];
    const foot: [number, number] = [brought, brought + (row.shareOfTotal ?? 0)];
    [taken, brought] = [top[1], foot[1]];
    bands.push({ row, category: categories.find((c) => c.id === row.categoryId), top, foot });
  }
  return (
    <figure className="mb-5">
      <div className="flex justify-between text-faded text-sm">
        <span>what each takes of what goes out</span>
      </div>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="my-0.5 block w-full"
        role="img"
        aria-label={`Shares taken and brought: ${bands.map((b) => `${b.category?.name} takes ${share(b.row.shareOfDeliveries)}, brings ${share(b.row.shareOfTotal)}`).join('; ')}`}
      >
        {bands.map(({ row, category, top, foot }) => (
          <g key={row.categoryId}>
            <title>{`${category?.name}: takes ${share(row.shareOfDeliveries)}, brings ${share(row.shareOfTotal)}`}</title>
            <path
              d={`M${x(top[0])} ${strip} L${x(top[1])} ${strip} C${x(top[1])} ${height / 2} ${x(foot[1])} ${height / 2} ${x(foot[1])} ${height - strip} L${x(foot[0])} ${height - strip} C${x(foot[0])} ${height / 2} ${x(top[0])} ${height / 2} ${x(top[0])} ${strip} Z`}
              fill={colourOf(category)}
              fillOpacity={0.3}
            />
            <End band={top} y={0} category={category} value={row.shareOfDeliveries} />
            <End band={foot} y={height - strip} category={category} value={row.shareOfTotal} />
          </g>
        ))}
      </svg>
      <div className="text-faded text-sm">what each brings</div>
    </figure>
  );
}

function End({
  band: [from, to],
  y,
  category,
  value,
}: {
  band: [number, number];
  y: number;
  category: Category | undefined;
  value: number | null;
}) {
  const wide = x(to) - x(from);
  const ink = category && palette[category.colour] ? 'var(--on-pale)' : 'var(--on-deep)';
  return (
    <>
      <rect
        x={x(from)}
        y={y}
        width={Math.max(0, wide)}
        height={strip}
        fill={colourOf(category)}
        className="stroke-paper"
        strokeWidth={2}
      />
      {wide > 26 && category && (
        <text x={x(from) + 7} y={y + 20} fill={ink} className="font-head font-semibold text-[15px]">
          {category.monogram}
        </text>
      )}
      {wide > 84 && (
        <text x={x(to) - 7} y={y + 20} fill={ink} textAnchor="end" className="font-head text-[15px]">
          {share(value)}
        </text>
      )}
    </>
  );
}
