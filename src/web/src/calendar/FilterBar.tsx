import { useMemo, useState } from 'react';
import { Monogram, useCategories } from '../categories/categories';
import { useChannelGroups, useChannels } from '../channels/channels';
import { StateMark } from '../deliveries/StateMark';
import type { Form } from '../deliveries/states';
import type { Entry } from '../lineup/lineup';
import { NetworkMark } from '../networks/networks';
import { useRotas } from '../rota/rota';
import { Button } from '../ui/Button';
import { Popover } from '../ui/Popover';
import { SearchBox } from '../ui/SearchBox';
import { countsOf, type Facet, type Filters, facets, type GroupsOf, isFiltered } from './filters';

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
  filters: Filters;
  /** The title to search for, as the address has it: while it is typed, the filters are ahead of it. */
  title: string;
  groups: GroupsOf;
  onChange: (facet: Facet | 'text', values: readonly string[]) => void;
  /** Told of the title at each letter, before `onChange`. */
  onTyped: (text: string) => void;
  onClear: () => void;
}

/** By what the calendar is narrowed, each choice with how many posts it would show. */
export function FilterBar({ entries, filters, title, groups, onChange, onTyped, onClear }: Props) {
  const options = useOptions();
  // A letter that hasn't been told yet goes with all the rest.
  const [cleared, setCleared] = useState(0);
  return (
    <fieldset className="flex flex-wrap items-center gap-1.5">
      <legend className="sr-only">Show only</legend>
      {facets
        .filter((facet) => options[facet].length > (facet === 'group' ? 0 : 1))
        .map((facet) => (
          <FacetChoice
            key={facet}
            facet={facet}
            options={options[facet]}
            entries={entries}
            filters={filters}
            groups={groups}
            onChange={(values) => onChange(facet, values)}
          />
        ))}
      <SearchBox
        key={cleared}
        label="Search the calendar"
        placeholder="Title"
        onTyped={onTyped}
        value={title}
        onChange={(text) => onChange('text', text ? [text] : [])}
      />
      {isFiltered(filters) && (
        <Button
          variant="quiet"
          className="underline underline-offset-3"
          onClick={() => {
            setCleared(cleared + 1);
            onClear();
          }}
        >
          Show all
        </Button>
      )}
    </fieldset>
  );
}

interface FacetProps {
  facet: Facet;
  options: readonly Option[];
  entries: readonly Entry[];
  filters: Filters;
  groups: GroupsOf;
  onChange: (values: readonly string[]) => void;
}

function FacetChoice({ facet, options, ...rest }: FacetProps) {
  const value = rest.filters[facet];
  const chosen = options.filter((o) => value.includes(o.value));
  const words =
    chosen.length === 0 ? names[facet] : chosen.length === 1 ? chosen[0]?.label : `${names[facet]}: ${chosen.length}`;
  return (
    <Popover
      label={`Only some by ${names[facet].toLowerCase()}`}
      trigger={
        <Button data-facet={facet} className={`!px-2 !font-normal ${value.length > 0 ? '!border-dawn' : ''}`}>
          {chosen.length === 1 && chosen[0]?.mark}
          <span className="max-w-36 truncate">{words}</span> <span aria-hidden="true">▾</span>
        </Button>
      }
    >
      <Options facet={facet} options={options} {...rest} />
    </Popover>
  );
}

function Options({ facet, options, entries, filters, groups, onChange }: FacetProps) {
  const counts = useMemo(() => countsOf(entries, facet, filters, groups), [entries, facet, filters, groups]);
  const value = filters[facet];
  return (
    <fieldset className="max-h-96 w-64 overflow-y-auto">
      <legend className="sr-only">{names[facet]}</legend>
      {options.map((option) => (
        <label key={option.value} className="flex min-h-7 items-center gap-2 rounded-md px-1 hover:bg-wash">
          <input
            type="checkbox"
            className="size-4 shrink-0 accent-dawn"
            checked={value.includes(option.value)}
            onChange={(event) =>
              onChange(event.target.checked ? [...value, option.value] : value.filter((v) => v !== option.value))
            }
          />
          {option.mark}
          <span className="min-w-0 flex-1 truncate">{option.label}</span>
          <span data-count={option.value} className="font-head text-faded">
            {counts.get(option.value) ?? 0}
          </span>
        </label>
      ))}
    </fieldset>
  );
}
