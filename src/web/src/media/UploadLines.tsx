import { Progress } from 'radix-ui';
import { Button } from '../ui/Button';
import { megabytes } from './media';
import type { UploadLine, UploadState, Uploads } from './uploads';

const stateWords: Record<UploadState, string> = {
  waiting: 'Waits',
  sending: '',
  paused: 'Paused',
  checked: 'Looked into',
  done: '✓ Added',
  failed: 'Not added',
};

/** Files on their way: how far each has come, and what can be done about it. */
export function UploadLines({ uploads }: { uploads: Uploads }) {
  if (uploads.lines.length === 0) return null;
  return (
    <ul aria-label="Uploads" className="my-2 flex flex-col border-ink border-y-[1.5px]">
      {uploads.lines.map((line) => (
        <li key={line.key} className="border-rule py-1.5 not-first:border-t" data-upload={line.state}>
          <div className="flex min-h-8 items-center gap-3 text-sm">
            <span className="min-w-0 flex-1 truncate">{line.name}</span>
            <span className="text-faded">
              {stateWords[line.state] || `${megabytes(line.sent)} of ${megabytes(line.bytes)}`}
            </span>
            <Acts line={line} uploads={uploads} />
          </div>
          {(line.state === 'sending' || line.state === 'paused') && (
            <Progress.Root
              aria-label={`Sending ${line.name}`}
              value={Math.round((100 * line.sent) / Math.max(1, line.bytes))}
              className="h-1 overflow-hidden bg-wash"
            >
              <Progress.Indicator
                className={`block h-full ${line.state === 'paused' ? 'bg-faded' : 'bg-dawn'}`}
                style={{ width: `${(100 * line.sent) / Math.max(1, line.bytes)}%` }}
              />
            </Progress.Root>
          )}
          {line.trouble && (
            <p role="alert" className="text-bad text-sm">
              {line.trouble}
            </p>
          )}
        </li>
      ))}
    </ul>
  );
}

function Acts({ line, uploads }: { line: UploadLine; uploads: Uploads }) {
  const { state, key, name } = line;
  return (
    <span className="flex gap-1">
      {state === 'sending' && (
        <Button variant="quiet" aria-label={`Pause: ${name}`} onClick={() => uploads.pause(key)}>
          Pause
        </Button>
      )}
      {(state === 'paused' || state === 'failed') && (
        <Button variant="quiet" aria-label={`Go on: ${name}`} onClick={() => uploads.goOn(key)}>
          Go on
        </Button>
      )}
      {state !== 'done' && state !== 'checked' && (
        <Button variant="quiet" aria-label={`Cancel: ${name}`} onClick={() => uploads.cancel(key)}>
          Cancel
        </Button>
      )}
    </span>
  );
}
