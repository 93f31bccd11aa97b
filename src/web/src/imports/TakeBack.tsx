import { wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { type ImportLine, useTakeBack } from './imports';
import { count } from './words';

/** Takes a whole import out of the bank again; what was sent or changed since stays and is named. */
export function TakeBack({ line }: { line: ImportLine }) {
  const takeBack = useTakeBack();
  const { tell, trouble } = useNotices();
  return (
    <Button
      aria-label={`Take it back: ${line.fileName}`}
      disabled={takeBack.isPending}
      onClick={() =>
        takeBack.mutate(line.id, {
          onSuccess: ({ kept }) =>
            tell(
              kept.length === 0
                ? 'The import is taken back.'
                : `The import is taken back, but for this: ${kept.slice(0, 4).join(' ')}${kept.length > 4 ? ` And ${count(kept.length - 4, 'more', 'more')}.` : ''}`,
            ),
          onError: (error) => trouble(wordsOf(error)),
        })
      }
    >
      Take it back
    </Button>
  );
}
