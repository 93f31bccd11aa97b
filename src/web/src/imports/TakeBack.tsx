import { Button } from '../ui/Button';
import { type ImportLine, useTakeBack } from './imports';

/** Takes a whole import out of the bank again; what was sent or changed since stays and is named. */
export function TakeBack({ line }: { line: ImportLine }) {
  const takeBack = useTakeBack();
  return (
    <Button
      aria-label={`${takeBack.isPending ? 'Taking it back …' : 'Take it back'}: ${line.fileName}`}
      disabled={takeBack.isPending}
      onClick={() => takeBack.mutate(line.id)}
    >
      {takeBack.isPending ? 'Taking it back …' : 'Take it back'}
    </Button>
  );
}
