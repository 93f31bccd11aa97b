import { CategoryName } from '../categories/categories';
import { useNetworks } from '../networks/networks';
import { clock, longDay } from '../time/dates';
import { type Column, Table } from '../ui/Table';
import type { ImportRow } from './imports';

const columns: readonly Column<ImportRow>[] = [
  { name: 'Row', show: (row) => <b className="pl-1 font-head">{row.number}</b> },
  {
    name: 'Title and text',
    show: (row) => (
      <div className="max-w-md">
        <b className="block truncate">{row.title}</b>
        <span className="line-clamp-2 text-faded">{row.text}</span>
        {row.picture && <span className="block text-faded">Picture: {row.picture}</span>}
      </div>
    ),
  },
  { name: 'Category', show: (row) => (row.categoryId ? <CategoryName id={row.categoryId} /> : '–') },
  {
    name: 'When',
    show: (row) => (
      <span className="whitespace-nowrap">
        {row.when ? whenWords(row.when) : <span className="text-faded">by rotation</span>}
      </span>
    ),
  },
  { name: 'What was found', show: (row) => <RowFindings row={row} /> },
];

/** Each row as the post it would become, with what was found in it. */
export function PreviewTable({ rows }: { rows: readonly ImportRow[] }) {
  return (
    <div className="text-sm">
      <Table
        caption="Rows of the sheet"
        columns={columns}
        rows={rows}
        keyOf={(row) => row.number}
        isBad={(row) => !row.canImport}
      />
    </div>
  );
}

function whenWords(when: string) {
  const [date = '', time = ''] = when.split('T');
  return `${longDay(date)}, ${clock(time)}`;
}

function RowFindings({ row }: { row: ImportRow }) {
  const networks = useNetworks();
  const ofNetworks = Object.entries(row.networkFindings as Record<string, ImportRow['findings']>);
  if (row.findings.length === 0 && ofNetworks.length === 0) return <span className="text-good">Fine</span>;
  return (
    <ul>
      {row.findings.map((finding) => (
        <li key={finding.code} className={finding.blocks ? 'text-bad' : ''}>
          {finding.words}
        </li>
      ))}
      {ofNetworks.map(([network, findings]) =>
        findings.map((finding) => (
          <li key={network + finding.code} className={finding.blocks ? 'text-bad' : 'text-faded'}>
            {networks.data?.find((n) => n.key === network)?.name}: {finding.words}
          </li>
        )),
      )}
    </ul>
  );
}
