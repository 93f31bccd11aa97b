import { CategoryName } from '../categories/categories';
import { type Column, Table } from '../ui/Table';
import type { CategoryResult, ResultsView } from './results';
import { index, measured, share, whole } from './words';

const figure = (name: string, title: string, show: (row: CategoryResult) => string): Column<CategoryResult> => ({
  name,
  title,
  show,
  figure: true,
});

/** All figures of the comparison, for whoever wants to work on with them. */
export function CategoryTable({ data }: { data: ResultsView }) {
  const value = measured(data.isRate);
  const columns: readonly Column<CategoryResult>[] = [
    { name: 'Category', names: true, show: (row) => <CategoryName id={row.categoryId} /> },
    figure('Posts', 'Of the deliveries counted', (r) => whole(r.posts)),
    figure('Deliveries', 'Sent in the period, with figures', (r) => whole(r.deliveries)),
    figure('Takes', 'Share of the deliveries', (r) => share(r.shareOfDeliveries)),
    figure('Total', 'Sum over its deliveries', (r) => whole(r.total)),
    ...(data.isRate ? [figure('Rate', 'Sum over sum', (r) => share(r.rate))] : []),
    figure('Median', 'Of its deliveries, each by itself', (r) => value(r.median)),
    ...(data.isRate ? [] : [figure('Brings', 'Share of the total', (r) => share(r.shareOfTotal))]),
    figure('As it stands', '1: it brings what it takes', (r) => index(r.index)),
    figure('Compared fairly', 'Had all gone out on the same channels at the same hours', (r) =>
      index(r.adjusted?.value),
    ),
    figure('Between', '95 % interval', (r) =>
      r.adjusted ? `${index(r.adjusted.low)} – ${index(r.adjusted.high)}` : '–',
    ),
    figure('Period before', 'As it stood then', (r) => index(data.before.indices[r.categoryId])),
    figure('Year before', 'As it stood then', (r) => index(data.yearBefore.indices[r.categoryId])),
  ];
  return (
    <Table caption="All figures by category" columns={columns} rows={data.categories} keyOf={(r) => r.categoryId} />
  );
}
