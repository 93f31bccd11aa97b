import { ChannelName } from '../channels/channels';
import { Empty, Fetched } from '../ui/States';
import { type Column, Table } from '../ui/Table';
import { type ActivityRow, type Question, useActivity } from './results';
import { share, whole } from './words';

const figure = (name: string, title: string, show: (row: ActivityRow) => string): Column<ActivityRow> => ({
  name,
  title,
  show,
  figure: true,
});

const proportion = ({ share: value, low, high }: ActivityRow['sent']) =>
  value === null ? '–' : `${share(value)} (${share(low)} – ${share(high)})`;

const columns: readonly Column<ActivityRow>[] = [
  { name: 'Channel', names: true, show: (row) => <ChannelName id={row.channelId} /> },
  figure('To come', 'Planned, or waiting for approval', (r) => whole(r.planned)),
  figure('Sent', 'Went out', (r) => whole(r.sent.successes)),
  figure('Refused', 'The network said no', (r) => whole(r.refused)),
  figure('Missed', 'Its time passed without a sending', (r) => whole(r.missed)),
  figure('Waits for you', 'Post it yourself, or nobody knows whether it went out', (r) => whole(r.waiting)),
  figure('Cancelled', 'Taken out by a person', (r) => whole(r.cancelled)),
  figure('Went out', 'Of all whose time has come; 95 % interval after Wilson', (r) => proportion(r.sent)),
  figure('On time', 'Of those sent, within a minute; 95 % interval after Wilson', (r) => proportion(r.onTime)),
];

/** What was to go out, and what became of it: work, not success. */
export function Activity({ question }: { question: Question }) {
  const activity = useActivity(question);
  return (
    <Fetched query={activity} what="the activity">
      {(rows) =>
        rows.length === 0 ? (
          <Empty title="Nothing was to go out in this time">Choose a longer time.</Empty>
        ) : (
          <>
            <p className="mb-3 max-w-[80ch] text-faded">
              What was to go out between these dates, and what became of it. In brackets, the 95 % interval: of few
              deliveries a share says little.
            </p>
            <Table caption="Activity by channel" columns={columns} rows={rows} keyOf={(row) => row.channelId} />
          </>
        )
      }
    </Fetched>
  );
}
