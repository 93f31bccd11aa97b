import { type Category, colourOf, useCategories } from '../categories/categories';
import { palette } from '../categories/palette';
import type { CategoryResult } from './results';
import { share } from './words';

const depth = 84;

interface Band {
  row: CategoryResult;
  category: Category | undefined;
  top: [number, number];
  foot: [number, number];
}

/** At one glance: above, what each category takes of all that goes out; below, what it brings. A band that widens earns more than it takes. */
export function Ribbons({ rows }: { rows: readonly CategoryResult[] }) {
  const categories = useCategories().data ?? [];
  // In the workspace's own order, so that a category keeps its place whatever it earned.
  const place = (row: CategoryResult) => categories.findIndex((c) => c.id === row.categoryId);
  const bands: Band[] = [];
  let [taken, brought] = [0, 0];
  for (const row of [...rows].sort((a, b) => place(a) - place(b))) {
    const top: [number, number] = [taken, taken + (row.shareOfDeliveries ?? 0) * 100];
    const foot: [number, number] = [brought, brought + (row.shareOfTotal ?? 0) * 100];
    [taken, brought] = [top[1], foot[1]];
    bands.push({ row, category: categories[place(row)], top, foot });
  }
  return (
    <figure className="mb-5">
      <figcaption className="text-faded text-sm">what each takes of what goes out</figcaption>
      <Strip bands={bands} of={(b) => b.row.shareOfDeliveries} />
      <svg
        viewBox={`0 0 100 ${depth}`}
        preserveAspectRatio="none"
        className="block w-full"
        height={depth}
        role="img"
        aria-label={`Shares taken and brought: ${bands.map((b) => `${b.category?.name} takes ${share(b.row.shareOfDeliveries)}, brings ${share(b.row.shareOfTotal)}`).join('; ')}`}
      >
        {bands.map(({ row, category, top, foot }) => (
          <path
            key={row.categoryId}
            d={`M${top[0]} 0 H${top[1]} C${top[1]} ${depth / 2} ${foot[1]} ${depth / 2} ${foot[1]} ${depth} H${foot[0]} C${foot[0]} ${depth / 2} ${top[0]} ${depth / 2} ${top[0]} 0 Z`}
            fill={colourOf(category)}
            fillOpacity={0.3}
          />
        ))}
      </svg>
      <Strip bands={bands} of={(b) => b.row.shareOfTotal} />
      <p className="text-faded text-sm" aria-hidden="true">
        what each brings
      </p>
    </figure>
  );
}

/** The shares side by side; what is too narrow for words says them on pointing. */
function Strip({ bands, of }: { bands: readonly Band[]; of: (band: Band) => number | null }) {
  return (
    <div className="flex font-head text-[0.95rem] leading-7" aria-hidden="true">
      {bands.map((band) => {
        const value = of(band) ?? 0;
        return (
          <span
            key={band.row.categoryId}
            title={`${band.category?.name}: ${share(value)}`}
            className="@container flex h-7 justify-between overflow-hidden border-paper border-x"
            style={{
              width: `${value * 100}%`,
              background: colourOf(band.category),
              color: band.category && palette[band.category.colour] ? 'var(--on-pale)' : 'var(--on-deep)',
            }}
          >
            <b className="hidden pl-1.5 font-semibold @[2rem]:inline">{band.category?.monogram}</b>
            <span className="hidden pr-1.5 @[5.5rem]:inline">{share(value)}</span>
          </span>
        );
      })}
    </div>
  );
}
