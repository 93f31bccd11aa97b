import type { Schemas } from '../api/client';
import { instantWords } from '../time/dates';
import { useWorkspace } from '../workspaces/workspace';

type Attempt = Schemas['AttemptView'];

const ends: Record<Exclude<Attempt['end'], null>, string> = {
  done: 'done',
  refused: 'refused',
  busy: 'put off by the network',
  lost: 'no answer',
  absent: 'looked up, not there',
};

/** What a step does, by its key: “picture-2”, “part-3-picture”. */
const stepWords = (key: string) => {
  const words = key.replaceAll('-', ' ');
  return words[0]?.toUpperCase() + words.slice(1);
};

/** What was tried, and how each try ended: for whoever has to find out what happened. */
export function AttemptList({ attempts }: { attempts: readonly Attempt[] }) {
  const zone = useWorkspace().data?.zone;
  if (attempts.length === 0 || !zone) return null;
  return (
    <details>
      <summary className="cursor-pointer text-faded">
        {attempts.length === 1 ? 'One call' : `${attempts.length} calls`} to the network
      </summary>
      <ul className="ruled mt-1">
        {attempts.map((attempt) => (
          <li key={attempt.startedAt + attempt.step} className="py-1.5 text-sm">
            <span className="text-faded">{instantWords(attempt.startedAt, zone, { second: '2-digit' })}</span>{' '}
            {stepWords(attempt.step)}: <b>{attempt.end ? ends[attempt.end] : 'cut off'}</b>
            {attempt.lookUps > 0 && attempt.end !== 'absent' && `, looked for ${attempt.lookUps} times`}
            {attempt.reason && <span className="block text-faded">{attempt.reason}</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}
