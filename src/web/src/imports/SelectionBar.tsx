import { useState } from 'react';
import { useCategories } from '../categories/categories';
import { ChannelChoice, useChannels } from '../channels/channels';
import { useNetworks } from '../networks/networks';
import { Button } from '../ui/Button';
import { Menu, MenuItem } from '../ui/Menu';
import { Popover } from '../ui/Popover';
import { type ImportRow, type ImportView, type RowFilter, type RowsEdit, rowsOf, theseRows } from './imports';
import { count } from './words';

interface Props {
  view: ImportView;
  filter: RowFilter;
  chosen: ReadonlySet<number>;
  active: ImportRow | null;
  onChoose: (rows: ReadonlySet<number>) => void;
  onEdit: (change: Partial<RowsEdit> & Pick<RowsEdit, 'which'>, done?: (rows: number) => string) => void;
}

/** What can be done with the chosen rows, or with all that are shown. */
export function SelectionBar({ view, filter, chosen, active, onChoose, onEdit }: Props) {
  const [all, setAll] = useState(false);
  const categories = useCategories();
  const networks = useNetworks();
  const total = filter.status ? view.counts[filter.status] : view.counts.rows;
  if (chosen.size === 0 && !all)
    return (
      <p className="mb-1 flex min-h-8 items-center gap-3 text-faded text-sm">
        Arrows move, Enter opens a cell, Space chooses a row.
        <Button variant="quiet" className="text-ink underline underline-offset-3" onClick={() => setAll(true)}>
          Choose all that are shown
        </Button>
      </p>
    );
  const which = all ? rowsOf(filter) : theseRows([...chosen]);
  const words = all
    ? `All ${filter.search || filter.about ? 'shown' : count(total, 'row')}`
    : count(chosen.size, 'row');
  const act = (change: Partial<RowsEdit>, done: (rows: number) => string) => {
    onEdit({ which, ...change }, done);
    setAll(false);
    onChoose(new Set());
  };
  return (
    <fieldset className="mb-1 flex min-h-8 flex-wrap items-center gap-2 text-sm">
      <legend className="sr-only">With the chosen rows</legend>
      <b className="mr-1">{words}:</b>
      <Button onClick={() => act({ leftOut: true }, (n) => `${count(n, 'row')} left out.`)}>Leave out</Button>
      <Button onClick={() => act({ leftOut: false, ifThere: 'anyway' }, (n) => `${count(n, 'row')} brought back.`)}>
        Bring back
      </Button>
      <Menu label="With these:" trigger="Category ▾" triggerClass="border-[1.5px] border-rule-strong bg-leaf">
        {categories.data?.map((category) => (
          <MenuItem
            key={category.id}
            onSelect={() =>
              act({ values: { 'post.category': category.name } }, (n) => `${category.name} for ${count(n, 'row')}.`)
            }
          >
            {category.name}
          </MenuItem>
        ))}
      </Menu>
      <ChannelsPopover
        onTake={(names) =>
          act(
            { values: { 'post.channels': names, 'post.networks': '' } },
            (n) => `Channels set for ${count(n, 'row')}.`,
          )
        }
      />
      <Menu label="With these:" trigger="Fit to ▾" triggerClass="border-[1.5px] border-rule-strong bg-leaf">
        <MenuItem
          onSelect={() =>
            act({ fit: (networks.data ?? []).map((n) => n.key) }, (n) => `${count(n, 'row')} made to fit.`)
          }
        >
          All networks
        </MenuItem>
        {networks.data?.map((network) => (
          <MenuItem
            key={network.key}
            onSelect={() => act({ fit: [network.key] }, (n) => `${count(n, 'row')} made to fit ${network.name}.`)}
          >
            {network.name}
          </MenuItem>
        ))}
      </Menu>
      {active && (
        <FillDown
          active={active}
          onFill={(target, value) =>
            act({ values: { [target]: value } }, (n) => `Filled down over ${count(n, 'row')}.`)
          }
        />
      )}
      <Button onClick={() => act({ reset: true }, (n) => `${count(n, 'row')} as the sheet has them.`)}>
        As in the sheet
      </Button>
      <Button
        variant="quiet"
        onClick={() => {
          setAll(false);
          onChoose(new Set());
        }}
      >
        Choose none
      </Button>
    </fieldset>
  );
}

/** Puts what stands in the active row's cells into the chosen rows. */
function FillDown({ active, onFill }: { active: ImportRow; onFill: (target: string, value: string) => void }) {
  const cells = Object.entries(active.cells as Record<string, string>).filter(([, value]) => value !== '');
  if (cells.length === 0) return null;
  return (
    <Menu
      label="With these:"
      trigger={`Fill down from row ${active.number} ▾`}
      triggerClass="border-[1.5px] border-rule-strong bg-leaf"
    >
      {cells.map(([target, value]) => (
        <MenuItem key={target} onSelect={() => onFill(target, value)}>
          <span className="text-faded">{target.replace('post.', '')}</span>{' '}
          <span className="max-w-64 truncate">{value}</span>
        </MenuItem>
      ))}
    </Menu>
  );
}

function ChannelsPopover({ onTake }: { onTake: (handles: string) => void }) {
  const channels = useChannels();
  const networks = useNetworks();
  const nameOf = (id: string) => {
    const channel = channels.data?.find((c) => c.id === id);
    const network = networks.data?.find((n) => n.key === channel?.network);
    // A name with a comma in it would be taken for two.
    return channel && network && !/[,;|]/.test(channel.name) ? `${channel.name} (${network.name})` : id;
  };
  const [ids, setIds] = useState<string[]>([]);
  return (
    <Popover label="Channels for the chosen rows" trigger={<Button>Channels ▾</Button>}>
      <div className="w-72">
        <ChannelChoice label="Channels" value={ids} onChange={setIds} />
        <Button
          className="mt-2"
          variant="primary"
          disabled={ids.length === 0}
          onClick={() => onTake(ids.map(nameOf).join(', '))}
        >
          Set them
        </Button>
      </div>
    </Popover>
  );
}
