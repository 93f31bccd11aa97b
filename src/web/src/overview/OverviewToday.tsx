import { Link } from 'react-router';
import { useNeeds } from '../deliveries/needs';
import { KeyDateNotes } from '../keydates/KeyDateNotes';
import { EntrySheet } from '../lineup/EntrySheet';
import { LineUpList } from '../lineup/LineUpList';
import { WorkspaceMark } from '../media/WorkspaceMark';
import { clock, zoneWords } from '../time/dates';
import { Damaged } from '../today/Damaged';
import { RunwayNotes } from '../today/RunwayNotes';
import { Connections, NeedLine, Waiting } from '../today/Today';
import type { WorkspaceLink } from '../workspaces/workspace';
import type { WorkspaceOverview } from './workspaceOverview';

interface Props {
  workspace: WorkspaceLink;
  overview: WorkspaceOverview;
  /** Key of the entry that is open, of whichever workspace. */
  open: string | null;
  onOpen: (key: string | null) => void;
}

/** One workspace among all: what needs somebody there, and what goes out today and tomorrow. */
export function OverviewToday({ workspace, overview, open, onOpen }: Props) {
  const { failed, yours, waiting, runningShort, lineUp, trouble } = overview;
  const counts = [
    yours > 0 && `${yours} yours to post`,
    waiting > 0 && `${waiting} ${waiting === 1 ? 'waits' : 'wait'} for approval`,
    runningShort > 0 && `${runningShort} running short`,
  ].filter((words) => words !== false);
  const left = lineUp.entries.filter((e) => e.state !== 'sent');
  return (
    <section
      aria-label={workspace.name}
      data-workspace={workspace.slug}
      className="mb-8 border-t-[3px] pt-3"
      style={{ borderColor: `var(--${workspace.colour})` }}
    >
      <h2 className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1">
        <WorkspaceMark workspace={workspace} size={30} />
        <Link to={`/w/${workspace.slug}/today`} className="hover:underline">
          {workspace.name}
        </Link>
        {failed > 0 && <span className="font-semibold font-text text-bad text-base">{failed} failed</span>}
        <span className="font-normal font-text text-base text-faded">
          {counts.length > 0 ? counts.join(', ') : failed === 0 && !trouble && 'all well'}
        </span>
        {!trouble && <span className="ml-auto font-normal font-text text-faded text-sm">{zoneWords(lineUp.zone)}</span>}
      </h2>
      {trouble && (
        <p role="alert" className="mb-3 border-bad border-l-4 bg-bad-wash px-3 py-2">
          {trouble}
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,7fr)] gap-12">
        <div>
          <Damaged />
          <KeyDateNotes />
          {(failed > 0 || counts.length > 0) && <Needs />}
        </div>
        <div>
          {left.length === 0 ? (
            <p className="text-faded">
              Nothing more goes out today or tomorrow.
              {lineUp.entries.length > 0 && ` The last went at ${clock(lineUp.entries.at(-1)?.time ?? '')}.`}
            </p>
          ) : (
            <LineUpList entries={left} chosen={open} onChoose={onOpen} />
          )}
        </div>
      </div>
      <EntrySheet entries={lineUp.entries} chosen={open} onChoose={onOpen} onClose={() => onOpen(null)} />
    </section>
  );
}

function Needs() {
  const needs = useNeeds().data ?? [];
  return (
    <>
      <Connections />
      <Waiting />
      {needs.length > 0 && (
        <ul className="border-ink border-t-[1.5px]">
          {needs.map((need) => (
            <NeedLine key={need.deliveryId} need={need} />
          ))}
        </ul>
      )}
      <div className="mt-4">
        <RunwayNotes />
      </div>
    </>
  );
}
