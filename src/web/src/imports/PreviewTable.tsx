import { CategoryName } from '../categories/categories';
import { useNetworks } from '../networks/networks';
import { clock, longDay } from '../time/dates';
import type { ImportRow } from './imports';

/** Each row as the post it would become, with what was found in it. */
export function PreviewTable({ rows }: { rows: readonly ImportRow[] }) {
  return (
    <table className="w-full text-left text-sm">
      <thead className="border-ink border-y-[1.5px]">
        <tr>
          {['Row', 'Title and text', 'Category', 'When', 'What was found'].map((name) => (
            <th key={name} scope="col" className="py-1.5 pr-4 font-semibold">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={row.number}
            data-row={row.number}
            className={`border-rule border-b align-top ${row.canImport ? '' : 'bg-bad-wash'}`}
          >
            <td className="py-1.5 pr-4 pl-1 font-head font-semibold">{row.number}</td>
            <td className="max-w-md py-1.5 pr-4">
              <b className="block truncate">{row.title}</b>
              <span className="line-clamp-2 text-faded">{row.text}</span>
              {row.picture && <span className="block text-faded">Picture: {row.picture}</span>}
            </td>
            <td className="py-1.5 pr-4">{row.categoryId ? <CategoryName id={row.categoryId} /> : '–'}</td>
            <td className="whitespace-nowrap py-1.5 pr-4">
              {row.when ? whenWords(row.when) : <span className="text-faded">by rotation</span>}
            </td>
            <td className="py-1.5">
              <RowFindings row={row} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
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
