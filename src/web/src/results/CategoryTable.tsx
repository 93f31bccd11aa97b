import { CategoryName } from '../categories/categories';
import { type Column, Table } from '../ui/Table';
import type { CategoryResult } from './results';
import { index, share, whole } from './words';

const figure = (name: string, title: string, show: (row: CategoryResult) => string): Column<CategoryResult> => ({
  name,
  title,
  show,
  figure: true,
});

const columns: readonly Column<CategoryResult>[] = [
  { name: 'Category', names: true, show: (row) => <CategoryName id={row.categoryId} /> },
  figure('Deliveries', 'Sent in the period, with figures', (r) => whole(r.deliveries)),
  figure('Share of deliveries', 'Of all deliveries counted', (r) => share(r.shareOfDeliveries)),
  figure('Reach', 'Sum over its deliveries', (r) => whole(r.reach)),
  figure('Engagements', 'Sum over its deliveries', (r) => whole(r.engagements)),
  figure('Engagement rate', 'Engagements ÷ reach', (r) => share(r.engagementRate)),
  figure('Share of engagements', 'Of all engagements counted', (r) => share(r.shareOfEngagements)),
  figure('Index', 'Share of engagements ÷ share of deliveries', (r) => index(r.index)),
];

export function CategoryTable({ rows }: { rows: readonly CategoryResult[] }) {
  return <Table caption="Results by category" columns={columns} rows={rows} keyOf={(row) => row.categoryId ?? ''} />;
}
