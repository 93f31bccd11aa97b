import { Progress as Primitive } from 'radix-ui';
import { Button } from './Button';

interface Props {
  /** What is under way, as a person would say it. */
  words: string;
  /** From 0 to 1; null while nobody can tell. */
  share: number | null;
  onCancel?: () => void;
}

/** Long work: how far it has come, and a way to stop it. */
export function Progress({ words, share, onCancel }: Props) {
  const percent = share === null ? null : Math.round(share * 100);
  return (
    <div role="status" className="flex max-w-xl items-center gap-4 py-3">
      <div className="flex-1">
        <p className="mb-1 flex justify-between">
          <span>{words}</span>
          {percent !== null && <span className="font-head font-semibold">{percent} %</span>}
        </p>
        <Primitive.Root
          aria-label={words}
          value={percent}
          className="relative h-2 overflow-hidden border-ink border-b-[1.5px]"
        >
          <Primitive.Indicator
            className={`absolute inset-y-0 left-0 bg-dawn ${percent === null ? 'under-way w-1/4' : ''}`}
            style={percent === null ? undefined : { width: `${percent}%` }}
          />
        </Primitive.Root>
      </div>
      {onCancel && <Button onClick={onCancel}>Stop</Button>}
    </div>
  );
}
