import type { UseMutationResult } from '@tanstack/react-query';
import { wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { useTellUndoable } from './undo';

interface Props<Result extends { changeSetId: string }> {
  label: string;
  variant?: 'plain' | 'quiet';
  className?: string;
  id: string;
  remove: UseMutationResult<Result, Error, string>;
  /** What the notice says, beside its undoing. */
  words: (result: Result) => string;
  onDone: () => void;
}

/** Removes a thing at once, without asking, and offers to take that back. */
export function RemoveButton<Result extends { changeSetId: string }>(props: Props<Result>) {
  const { label, variant = 'plain', className = '', id, remove, words, onDone } = props;
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  return (
    <Button
      variant={variant}
      className={className}
      disabled={remove.isPending}
      onClick={() =>
        remove.mutate(id, {
          onSuccess: (result) => {
            tellUndoable(words(result), result.changeSetId);
            onDone();
          },
          onError: (error) => trouble(wordsOf(error)),
        })
      }
    >
      {label}
    </Button>
  );
}
