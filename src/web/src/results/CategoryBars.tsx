import { CategoryName, colourOf, useCategory } from '../categories/categories';
import type { CategoryResult } from './results';
import { share } from './words';

/** The telling picture: how much of what was sent each category took, against how much of the engagements it earned. */
export function CategoryBars({ rows }: { rows: readonly CategoryResult[] }) {
  const most = Math.max(0.01, ...rows.flatMap((r) => [r.shareOfDeliveries ?? 0, r.shareOfEngagements ?? 0]));
  return (
    <figure className="mb-8">
      <figcaption className="mb-2 flex gap-6 text-faded text-sm">
        <span className="flex items-center gap-2">
          <span className="inline-block h-2.5 w-6 border-[1.5px] border-ink" /> share of deliveries: what it took
        </span>
        <span className="flex items-center gap-2">
          <span className="inline-block h-2.5 w-6 bg-ink" /> share of engagements: what it earned
        </span>
      </figcaption>
      <div className="border-ink border-t-[1.5px]">
        {rows.map((row) => (
          <Pair key={row.categoryId} row={row} most={most} />
        ))}
      </div>
    </figure>
  );
}

function Pair({ row, most }: { row: CategoryResult; most: number }) {
  const category = useCategory(row.categoryId);
  const colour = colourOf(category);
  const width = (value: number | null) => `${((value ?? 0) / most) * 100}%`;
  return (
    <div className="grid grid-cols-[11rem_1fr] items-center gap-4 border-rule border-b py-2">
      <CategoryName id={row.categoryId} />
      <div className="flex flex-col gap-1 pr-14">
        <div className="flex items-center gap-2">
          <span className="h-2.5 border-[1.5px]" style={{ width: width(row.shareOfDeliveries), borderColor: colour }} />
          <span className="text-sm">{share(row.shareOfDeliveries)}</span>
        </div>
        <div className="flex items-center gap-2">
          <span className="h-3.5" style={{ width: width(row.shareOfEngagements), background: colour }} />
          <b className="font-head text-sm">{share(row.shareOfEngagements)}</b>
        </div>
      </div>
    </div>
  );
}
