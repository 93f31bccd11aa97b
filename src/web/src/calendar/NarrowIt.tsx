import { memo, useDeferredValue, useMemo } from 'react';
import { Monogram, useCategories } from '../categories/categories';
import { useChannelGroups, useChannels } from '../channels/channels';
import { StateMark } from '../deliveries/StateMark';
import type { Form } from '../deliveries/states';
import type { Entry } from '../lineup/lineup';
import { NetworkMark } from '../networks/networks';
import { useRotas } from '../rota/rota';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Popover } from '../ui/Popover';
import { SearchBox } from '../ui/SearchBox';
import { countsOf, type Facet, type Filters, facets, type GroupsOf, isFiltered } from './filters';
import { Down, small } from './Head';

interface Option {
  value: string;
  label: string;
  mark?: React.ReactNode;
}

const states: readonly { value: Form; label: string }[] = [
  { value: 'open', label: 'may change' },
  { value: 'scheduled', label: 'scheduled' },
  { value: 'sending', label: 'sending, or yours to post' },
  { value: 'sent', label: 'sent' },
  { value: 'failed', label: 'failed' },
  { value: 'empty', label: 'empty' },
];

const names: Record<Facet, string> = {
  category: 'Category',
  channel: 'Channel',
  group: 'Group',
  state: 'State',
  rota: 'Rota',
  approval: 'Approval',
  finding: 'Findings',
};

function useOptions(): Record<Facet, readonly Option[]> {
  const categories = useCategories().data;
  const channels = useChannels().data;
  const groups = useChannelGroups().data;
  const rotas = useRotas().data;
  return useMemo(
    () => ({
      category: [
        ...(categories ?? []).map((c) => ({ value: c.id, label: c.name, mark: <Monogram category={c} /> })),
        { value: 'none', label: 'kept free' },
      ],
      channel: (channels ?? []).map((c) => ({ value: c.id, label: c.name, mark: <NetworkMark network={c.network} /> })),
      group: (groups ?? []).map((g) => ({ value: g.id, label: g.name })),
      state: states.map((s) => ({ ...s, mark: <StateMark form={s.value} size={9} /> })),
      rota: [
        ...(rotas ?? []).map((r) => ({ value: r.id, label: r.name })),
        { value: 'none', label: 'at an exact time' },
      ],
      approval: [
        { value: 'waits', label: 'waits for approval' },
        { value: 'none', label: 'needs none, or has it' },
      ],
      finding: [
        { value: 'trouble', label: 'went wrong' },
        { value: 'warned', label: 'has findings' },
      ],
    }),
    [categories, channels, groups, rotas],
  );
}

interface Props {
  entries: readonly Entry[];
  /** As the address has them. */
  filters: Filters;
  /** The title as it stands in its field: while it is typed, it is ahead of the address. */
  typed: string;
  groups: GroupsOf;
  onChange: (facet: Facet | 'text', values: readonly string[]) => void;
  /** Told of the title at each letter, before `onChange`. */
  onTyped: (text: string) => void;
}

/** By what the calendar is narrowed, each choice with how many posts it would show. */
export function NarrowIt(props: Props) {
  const { filters, typed, onChange } = props;
  const isNarrow = isFiltered({ ...filters, text: typed });
  return (
    <Popover
      label="Show only"
      // What was typed last hasn't been told yet.
      onOpenChange={(open) => !open && typed !== filters.text && onChange('text', typed ? [typed] : [])}
      trigger={
        <Button data-narrow={isNarrow} className={`${small} ${isNarrow ? '!border-dawn' : ''}`}>
          <Down>Narrow it</Down>
        </Button>
      }
    >
      <Facets {...props} />
    </Popover>
  );
}

function Facets({ entries, filters, typed, groups, onChange, onTyped }: Props) {
  // The cards go first where a title is typed.
  const text = useDeferredValue(typed);
  const later = useMemo(() => ({ ...filters, text }), [filters, text]);
  return (
    <div className="flex max-h-[calc(100vh-10rem)] w-[44rem] max-w-[calc(100vw-3rem)] flex-col gap-3 overflow-y-auto p-1">
      <SearchBox
        label="Search the calendar"
        placeholder="Title"
        onTyped={onTyped}
        value={filters.text}
        onChange={(text) => onChange('text', text ? [text] : [])}
      />
      <Choices entries={entries} filters={later} groups={groups} onChange={onChange} />
    </div>
  );
}

interface ChipsProps {
  filters: Filters;
  onChange: (facet: Facet | 'text', values: readonly string[]) => void;
  onClear: () => void;
}

/** What the calendar is narrowed to, each taken away by a press; nothing where it shows all. */
export function NarrowedTo({ filters, onChange, onClear }: ChipsProps) {
  const options = useOptions();
  if (!isFiltered(filters)) return null;
  return (
    <ul aria-label="Narrowed to" className="-mt-0.5 mb-2 flex flex-wrap items-center gap-1.5 text-sm">
      {facets.flatMap((facet) =>
        filters[facet].map((value) => {
          const option = options[facet].find((o) => o.value === value);
          return (
            <Chip
              key={`${facet} ${value}`}
              name={names[facet]}
              mark={option?.mark}
              label={option?.label ?? 'not there any more'}
              onRemove={() =>
                onChange(
                  facet,
                  filters[facet].filter((v) => v !== value),
                )
              }
            />
          );
        }),
      )}
      {filters.text && <Chip name="Title" label={`“${filters.text}”`} onRemove={() => onChange('text', [])} />}
      <li>
        <button type="button" className="min-h-[24px] px-1 underline underline-offset-3 print:hidden" onClick={onClear}>
          Show all
        </button>
      </li>
    </ul>
  );
}

function Chip({
  name,
  mark,
  label,
  onRemove,
}: {
  name: string;
  mark?: React.ReactNode;
  label: string;
  onRemove: () => void;
}) {
  return (
    <li>
      <button
        type="button"
        data-chip={label}
        title="Show the others too"
        className="flex min-h-[24px] items-center gap-1.5 rounded-md bg-dawn-wash px-1.5 hover:bg-wash"
        onClick={onRemove}
      >
        {mark}
        <span className={mark ? 'sr-only' : 'text-faded'}>{name} </span>
        <span className="max-w-48 truncate">{label}</span>
        <span className="sr-only">: show the others too</span>
        <span aria-hidden="true" className="print:hidden">
          ✕
        </span>
      </button>
    </li>
  );
}

/** All choices of all facets, each with how many posts it would show. */
const Choices = memo(function Choices({
  entries,
  filters,
  groups,
  onChange,
}: Pick<Props, 'entries' | 'filters' | 'groups' | 'onChange'>) {
  const options = useOptions();
  const counts = useMemo(() => countsOf(entries, filters, groups), [entries, filters, groups]);
  return (
    <div className="columns-[13rem] gap-4">
      {facets
        .filter((facet) => options[facet].length > (facet === 'group' ? 0 : 1))
        .map((facet) => (
          <fieldset key={facet} data-facet={facet} className="mb-3 min-w-0 break-inside-avoid">
            <legend className="text-faded text-sm">{names[facet]}</legend>
            {options[facet].map((option) => (
              <Checkbox
                key={option.value}
                isRow
                checked={filters[facet].includes(option.value)}
                onChange={(on) =>
                  onChange(
                    facet,
                    on ? [...filters[facet], option.value] : filters[facet].filter((v) => v !== option.value),
                  )
                }
              >
                {option.mark}
                <span className="min-w-0 flex-1 truncate">{option.label}</span>
                <span data-count={option.value} className="font-head text-faded">
                  {counts[facet].get(option.value) ?? 0}
                </span>
              </Checkbox>
            ))}
          </fieldset>
        ))}
    </div>
  );
});
