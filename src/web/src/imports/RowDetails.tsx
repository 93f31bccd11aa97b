import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { CategoryName } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { useNetworks } from '../networks/networks';
import { clock, longDay } from '../time/dates';
import { Button } from '../ui/Button';
import { useWorkspacePath } from '../workspaces/workspace';
import { AddFiles } from './AddFiles';
import { type ImportRow, type ImportView, type RowsEdit, theseRows } from './imports';
import type { DoubleChoice } from './words';
import { choiceWords, statusWords } from './words';

interface Props {
  row: ImportRow | null;
  view: ImportView;
  isBusy: boolean;
  onEdit: (change: Partial<RowsEdit> & Pick<RowsEdit, 'which'>, done?: (rows: number) => string) => void;
}

/** One row as the post that it becomes: where it goes, what was found, what can be done about it. */
export function RowDetails({ row, view, isBusy, onEdit }: Props) {
  const networks = useNetworks();
  if (!row)
    return (
      <aside aria-label="The row" className="border-rule border-l pl-5 text-faded text-sm">
        Choose a row to see the post that it becomes.
      </aside>
    );
  const edit = (change: Partial<RowsEdit>) => onEdit({ which: theseRows([row.number]), ...change });
  const lacksFile = row.findings.some((f) => f.code === 'rowPictureUnknown');
  return (
    <aside
      aria-label={`Row ${row.number}`}
      className="flex max-h-[max(22rem,calc(100vh-25rem))] flex-col gap-3 overflow-y-auto border-rule border-l pl-5"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls
      tabIndex={0}
    >
      <div>
        <p className="text-faded text-sm">
          Row {row.number} · {statusWords[row.status].toLowerCase()}
        </p>
        <h2 className="[overflow-wrap:anywhere]">{row.title}</h2>
        <p className="text-sm">{row.categoryId ? <CategoryName id={row.categoryId} /> : 'No category'}</p>
        <p className="text-sm">
          {row.when
            ? `${longDay(row.when.slice(0, 10))}, ${clock(row.when.slice(11))}`
            : (row.cells as Record<string, string>)['post.date']
              ? 'no time yet'
              : 'by rotation'}
        </p>
        <ul className="mt-1 flex flex-wrap gap-x-3 text-sm">
          {row.channels.map((id) => (
            <li key={id}>
              <ChannelName id={id} />
            </li>
          ))}
        </ul>
      </div>
      {row.group && row.group.joined === null && (
        <Asked words={`Rows ${row.group.rows.join(', ')} look like one post: ${row.group.by}.`}>
          <Button disabled={isBusy} onClick={() => edit({ joined: true })}>
            Join them
          </Button>
          <Button disabled={isBusy} onClick={() => edit({ joined: false })}>
            Keep them apart
          </Button>
        </Asked>
      )}
      {row.group && row.group.joined !== null && (
        <p className="text-sm">
          {row.group.joined ? `One post with rows ${row.group.rows.join(', ')}.` : 'Kept apart from the rows like it.'}{' '}
          <Button
            variant="quiet"
            className="!px-1 !py-0 underline underline-offset-3"
            disabled={isBusy}
            onClick={() => edit({ joined: !row.group?.joined })}
          >
            {row.group.joined ? 'Part them' : 'Join them'}
          </Button>
        </p>
      )}
      {row.differences.length === 0 && row.status !== 'leftOut' && (
        <Belonging key={row.number} row={row} isBusy={isBusy} onWith={(other) => edit({ with: other })} />
      )}
      {row.differences.length > 0 && (
        <ul aria-label="What changes" className="text-sm">
          {row.differences.map((difference) => (
            <li key={difference} className="[overflow-wrap:anywhere]">
              {difference}
            </li>
          ))}
        </ul>
      )}
      {row.twice && <Double row={row} isBusy={isBusy} onChoose={(ifThere) => edit({ ifThere })} />}
      {row.findings.length > 0 && (
        <ul className="flex flex-col gap-1 text-sm" aria-label="Findings">
          {row.findings.map((finding) => (
            <li
              key={finding.code + finding.words}
              data-finding={finding.code}
              className={`border-l-4 py-0.5 pl-2 ${finding.blocks ? 'border-bad text-bad' : 'border-rule-strong'}`}
            >
              <b>{finding.blocks ? 'Needs you' : 'Advice'}</b> {finding.words}
            </li>
          ))}
        </ul>
      )}
      {(row.mends.length > 0 || lacksFile) && (
        <div className="flex flex-wrap gap-2">
          {row.mends.map((mend) => (
            <Button
              key={mend.target + mend.value}
              disabled={isBusy}
              onClick={() => edit({ values: { [mend.target]: mend.value } })}
            >
              {mend.words}
            </Button>
          ))}
          {lacksFile && <AddFiles importId={view.line.id} />}
        </div>
      )}
      {row.networks.map((network) => {
        const name = networks.data?.find((n) => n.key === network.network)?.name ?? network.network;
        const canFit = network.findings.some((f) => f.fixes.length > 0) && !row.fitted.includes(network.network);
        return (
          <section key={network.network + network.channelId} aria-label={`Findings for ${name}`} className="text-sm">
            <h3>{network.channelId ? <ChannelName id={network.channelId} /> : name}</h3>
            <ul>
              {network.findings.map((finding) => (
                <li key={finding.code + finding.words} className={finding.blocks ? 'text-bad' : ''}>
                  <b>{finding.blocks ? 'Blocks' : 'Advice'}</b> {finding.words}
                </li>
              ))}
            </ul>
            {canFit && (
              <Button className="mt-1" disabled={isBusy} onClick={() => edit({ fit: [network.network] })}>
                Fit to {name}
              </Button>
            )}
          </section>
        );
      })}
      {row.fitted.length > 0 && (
        <p className="text-sm">
          Made to fit {row.fitted.map((key) => networks.data?.find((n) => n.key === key)?.name ?? key).join(', ')}.{' '}
          <Button
            variant="quiet"
            className="!px-1 !py-0 underline underline-offset-3"
            disabled={isBusy}
            onClick={() => edit({ fit: [] })}
          >
            As it was
          </Button>
        </p>
      )}
      <div className="flex gap-2">
        <Button
          disabled={isBusy}
          onClick={() => edit(row.status === 'leftOut' ? { leftOut: false, ifThere: 'anyway' } : { leftOut: true })}
        >
          {row.status === 'leftOut' ? 'Bring it back' : 'Leave it out'}
        </Button>
        {row.edited.length > 0 && (
          <Button variant="quiet" disabled={isBusy} onClick={() => edit({ reset: true })}>
            As in the sheet
          </Button>
        )}
      </div>
    </aside>
  );
}

/** Rows of one post are joined by hand where nothing recognised them, and parted where something did. */
function Belonging({ row, isBusy, onWith }: { row: ImportRow; isBusy: boolean; onWith: (other: number) => void }) {
  const [other, setOther] = useState('');
  const isPart = row.group !== null && row.group.joined !== false && row.group.rows.length > 1;
  if (isPart)
    return (
      <Button className="self-start" disabled={isBusy} onClick={() => onWith(0)}>
        Make row {row.number} a post by itself
      </Button>
    );
  return (
    <form
      className="flex items-center gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        if (Number(other) > 0) onWith(Number(other));
      }}
    >
      <label htmlFor="join-with">One post with row</label>
      <input
        id="join-with"
        inputMode="numeric"
        className="field w-16"
        value={other}
        onChange={(event) => setOther(event.target.value.replace(/\D/g, ''))}
      />
      <Button type="submit" disabled={isBusy || !other || Number(other) === row.number}>
        Join
      </Button>
    </form>
  );
}

function Asked({ words, children }: { words: string; children: ReactNode }) {
  return (
    <div className="border-dawn border-l-4 bg-dawn-wash px-3 py-2 text-sm">
      <p className="mb-1.5">{words}</p>
      <div className="flex flex-wrap gap-2">{children}</div>
    </div>
  );
}

function Double({
  row,
  isBusy,
  onChoose,
}: {
  row: ImportRow;
  isBusy: boolean;
  onChoose: (choice: DoubleChoice) => void;
}) {
  const { to } = useWorkspacePath();
  const twice = row.twice;
  if (!twice) return null;
  const choices: DoubleChoice[] = twice.postId ? ['leaveOut', 'wording', 'update', 'anyway'] : ['leaveOut', 'anyway'];
  return (
    <fieldset
      className={`border-l-4 px-3 py-2 text-sm ${twice.choice ? 'border-rule-strong' : 'border-dawn bg-dawn-wash'}`}
    >
      <legend className="sr-only">What is done with it, since it is there</legend>
      <p>
        {twice.isSame
          ? 'Just the same as '
          : twice.byId
            ? 'The outside id of '
            : `${Math.round(twice.likeness * 100)} % the same as `}
        {twice.postId ? (
          <Link className="link" to={to(`posts/${twice.postId}`)} target="_blank">
            {twice.title}
          </Link>
        ) : (
          `row ${twice.row}`
        )}
        .
      </p>
      {twice.differences.length > 0 && (
        <ul className="my-1">
          {twice.differences.map((difference) => (
            <li key={difference} className="[overflow-wrap:anywhere]">
              {difference}
            </li>
          ))}
        </ul>
      )}
      {choices.map((choice) => (
        <label key={choice} className="flex min-h-7 items-center gap-2">
          <input
            type="radio"
            name={`double-${row.number}`}
            className="size-4 accent-dawn"
            disabled={isBusy}
            checked={twice.choice === choice}
            onChange={() => onChoose(choice)}
          />
          {choiceWords[choice]}
        </label>
      ))}
    </fieldset>
  );
}
