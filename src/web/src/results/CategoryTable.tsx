import { CategoryName } from '../categories/categories';
import type { CategoryResult } from './results';
import { index, share, whole } from './words';

const columns: readonly { name: string; title: string; show: (row: CategoryResult) => string }[] = [
  { name: 'Deliveries', title: 'Sent in the period, with figures', show: (r) => whole(r.deliveries) },
  { name: 'Share of deliveries', title: 'Of all deliveries counted', show: (r) => share(r.shareOfDeliveries) },
  { name: 'Reach', title: 'Sum over its deliveries', show: (r) => whole(r.reach) },
  { name: 'Engagements', title: 'Sum over its deliveries', show: (r) => whole(r.engagements) },
  { name: 'Engagement rate', title: 'Engagements ÷ reach', show: (r) => share(r.engagementRate) },
  { name: 'Share of engagements', title: 'Of all engagements counted', show: (r) => share(r.shareOfEngagements) },
  { name: 'Index', title: 'Share of engagements ÷ share of deliveries', show: (r) => index(r.index) },
];

export function CategoryTable({ rows }: { rows: readonly CategoryResult[] }) {
  return (
    <table className="w-full">
      <thead className="border-ink border-y-[1.5px] text-sm">
        <tr>
          <th scope="col" className="py-1.5 text-left font-semibold">
            Category
          </th>
          {columns.map((column) => (
            <th key={column.name} scope="col" title={column.title} className="py-1.5 pl-4 text-right font-semibold">
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.categoryId} className="border-rule border-b">
            <th scope="row" className="py-1.5 text-left font-normal">
              <CategoryName id={row.categoryId} />
            </th>
            {columns.map((column) => (
              <td key={column.name} data-column={column.name} className="py-1.5 pl-4 text-right font-head">
                {column.show(row)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
