import { useDamaged } from '../deliveries/needs';
import { instantWords } from '../time/dates';
import { useWorkspace, useWorkspaceLink } from '../workspaces/workspace';

/** Rows that can’t be read: each by its table and what of it is damaged, for whoever mends the database. */
export function Damaged() {
  const { data } = useDamaged(useWorkspaceLink().rights.includes('setUp'));
  const zone = useWorkspace().data?.zone;
  if (!data || data.total === 0 || !zone) return null;
  const more = data.total - data.rows.length;
  return (
    <section
      aria-label="Damaged rows"
      role="alert"
      data-damaged={data.total}
      className="mb-3 border-bad border-l-4 bg-bad-wash px-3 py-2"
    >
      <p className="font-medium">
        {data.total === 1
          ? 'One row of the database can’t be read'
          : `${data.total} rows of the database can’t be read`}
      </p>
      <p>
        {data.total === 1 ? 'It is' : 'They are'} left out, and everything else goes on.
        {data.belonging > 0 &&
          ` So ${data.belonging === 1 ? 'is one row that belongs' : `are ${data.belonging} rows that belong`} to ${data.total === 1 ? 'it' : 'them'}.`}{' '}
        Tell whoever runs Able Lark:
      </p>
      <ul className="mt-1 text-sm">
        {data.rows.map((row) => (
          <li key={`${row.table} ${row.id}`} className="break-words">
            <code>
              {row.table} {row.id}
            </code>
            : {row.field} ({row.words}), found {instantWords(row.foundAt, zone)}
          </li>
        ))}
        {more > 0 && <li>and {more} more</li>}
      </ul>
    </section>
  );
}
