import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Look, LookContext, useById, usualParts } from '../calendar/look';
import { PostCard } from '../calendar/PostCard';
import { useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { KeyDatesOn } from '../keydates/KeyDateMark';
import { KeyDateContext, useKeyDateKinds } from '../keydates/keyDates';
import { cardsOf } from '../lineup/cards';
import { EntrySheet } from '../lineup/EntrySheet';
import { dropDay, useMovingByKeys, useMovingOwn } from '../lineup/moving';
import { WorkspaceMark } from '../media/WorkspaceMark';
import { addDays, dayWords, zoneWords } from '../time/dates';
import type { WorkspaceLink } from '../workspaces/workspace';
import type { WorkspaceOverview } from './workspaceOverview';

interface Props {
  workspace: WorkspaceLink;
  overview: WorkspaceOverview;
  monday: string;
  open: string | null;
  onOpen: (key: string | null) => void;
}

const parts = new Set(usualParts);
const none: ReadonlySet<string> = new Set();

/** A workspace's lane of the week: its posts by day, in its own zone. */
export function OverviewWeek({ workspace, overview, monday, open, onOpen }: Props) {
  const { lineUp } = overview;
  const categories = useById(useCategories().data);
  const channels = useById(useChannels().data);
  const all = useMemo(() => cardsOf(lineUp.entries), [lineUp.entries]);
  const cards = useMemo(() => Map.groupBy(all, (c) => c.date), [all]);
  useMovingOwn(lineUp.entries);
  const moveByKeys = useMovingByKeys((key) => all.find((c) => c.entries.some((e) => e.key === key))?.entries ?? []);
  const navigate = useNavigate();
  const kinds = useById(useKeyDateKinds().data);
  const openKeyDate = (key: string) =>
    navigate(`/w/${workspace.slug}/calendar?week=${monday}&date=${encodeURIComponent(key)}`);
  const look: Look = {
    today: lineUp.today,
    parts,
    categories,
    channels,
    notes: [],
    open,
    onOpen,
    chosen: none,
    isChoosing: false,
    onChoose: () => {},
    begin: (date) =>
      date >= lineUp.today && workspace.rights.includes('write') ? `/w/${workspace.slug}/posts/new?date=${date}` : null,
  };
  return (
    <KeyDateContext.Provider value={{ keyDates: overview.keyDates, kinds, onOpen: openKeyDate }}>
      <LookContext.Provider value={look}>
        <section
          aria-label={workspace.name}
          data-workspace={workspace.slug}
          onKeyDown={moveByKeys}
          className="grid grid-cols-[11rem_repeat(7,minmax(0,1fr))]"
        >
          <h2
            className="border-rule border-t border-l-[5px] py-2 pr-2 pl-2 font-text text-base leading-snug"
            style={{ borderLeftColor: `var(--${workspace.colour})` }}
          >
            <Link
              to={`/w/${workspace.slug}/calendar?week=${monday}`}
              className="flex items-start gap-2 hover:underline"
            >
              <WorkspaceMark workspace={workspace} />
              {workspace.name}
            </Link>
            <span className="font-normal text-faded text-sm">{zoneWords(lineUp.zone)}</span>
          </h2>
          {Array.from({ length: 7 }, (_, i) => addDays(monday, i)).map((day) => {
            const write = look.begin(day);
            return (
              <div
                key={day}
                ref={dropDay(day, workspace.id)}
                data-cell={day}
                className={`group flex min-h-16 min-w-0 flex-col gap-px border-rule border-t border-l p-1 data-over:bg-dawn-wash ${day === lineUp.today ? 'bg-dawn-wash/45' : ''}`}
              >
                <KeyDatesOn day={day} />
                {cards.get(day)?.map((card) => (
                  <PostCard key={card.key} card={card} />
                ))}
                {write && (
                  <Link
                    to={write}
                    aria-label={`Write a post for ${workspace.name} on ${dayWords(day)}`}
                    className="mt-auto inline-flex min-h-[24px] items-center justify-center rounded-sm text-faded focus-visible:opacity-100 group-hover:opacity-100 opacity-0 pointer-coarse:opacity-100 hover:bg-wash"
                  >
                    +
                  </Link>
                )}
              </div>
            );
          })}
        </section>
        <EntrySheet entries={lineUp.entries} chosen={open} onChoose={onOpen} onClose={() => onOpen(null)} />
      </LookContext.Provider>
    </KeyDateContext.Provider>
  );
}
