import { useRef } from 'react';
import type { Picture, Thread } from '../../posts/content';
import type { NetworkCheck } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { Checkbox } from '../../ui/Checkbox';
import { RichText } from '../text/RichText';
import { PicturesField } from './PicturesField';
import { joined, type Parts, splitAt } from './thread';

interface Props {
  id: string;
  label: string;
  /** The post's own text: the thread's first part. */
  text: string;
  value: Thread | null;
  /** How a network counts its parts; left out: several count in their own ways. */
  check?: NetworkCheck | undefined;
  onChange: (changed: { text?: string; thread: Thread | null }) => void;
}

/** What follows the post's own text, part by part: split where the caret is, joined again, each with pictures and its length. */
export function ThreadField({ id, label, text, value, check, onChange }: Props) {
  const parts: Parts = [{ text }, ...(value?.parts ?? [])];
  const carets = useRef(new Map<number, number>());
  const say = (changed: Parts) => {
    const [first, ...rest] = changed;
    onChange({
      ...(first && first.text !== text && { text: first.text }),
      thread: rest.length === 0 ? null : { ...value, parts: rest },
    });
  };
  const set = (at: number, part: Partial<Parts[number]>) =>
    say(parts.map((p, i) => (i === at ? { ...p, ...part } : p)));
  const unitsOf = (i: number) => (i === 0 ? check?.units : check?.threadUnits[i - 1]);
  return (
    <fieldset data-thread>
      <legend className="mb-1 text-faded text-sm">{label}</legend>
      <ol className="flex flex-col gap-3 border-rule-strong border-l">
        {parts.map((part, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place alone
          <li key={i} className="pl-3" data-thread-part={i + 1}>
            <label htmlFor={`${id}-${i}`} className="sr-only">
              Part {i + 1}
            </label>
            <RichText
              id={`${id}-${i}`}
              label={`part ${i + 1}`}
              rows={2}
              value={part.text}
              onChange={(words) => set(i, { text: words })}
              onCaret={(at) => carets.current.set(i, at)}
              foot={
                <>
                  <span className={over(unitsOf(i), check) ? 'font-semibold text-bad' : ''} data-part-count>
                    {check ? `${unitsOf(i) ?? 0} of ${check.limit}` : `${[...part.text].length} characters`}
                  </span>
                  <Button
                    variant="quiet"
                    className={small}
                    aria-label={`Split here: part ${i + 1}`}
                    onClick={() => say(splitAt(parts, i, carets.current.get(i) ?? part.text.length))}
                  >
                    Split here
                  </Button>
                  {i > 0 && (
                    <>
                      <Button
                        variant="quiet"
                        className={small}
                        aria-label={`Join to the one before: part ${i + 1}`}
                        onClick={() => say(joined(parts, i))}
                      >
                        Join to the one before
                      </Button>
                      <Button
                        variant="quiet"
                        className={small}
                        aria-label={`Take it away: part ${i + 1}`}
                        onClick={() => say(parts.filter((_, at) => at !== i))}
                      >
                        Take it away
                      </Button>
                    </>
                  )}
                </>
              }
            />
            {i > 0 && (
              <PicturesField
                label={`Pictures of part ${i + 1}`}
                value={part.pictures ?? []}
                onChange={(pictures: Picture[]) => set(i, { pictures: pictures.length > 0 ? pictures : null })}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Button onClick={() => say([...parts, { text: '' }])}>Add a part</Button>
        {parts.length > 1 && (
          <Checkbox
            checked={value?.isNumbered ?? false}
            onChange={(isNumbered) => onChange({ thread: { parts: value?.parts ?? [], isNumbered } })}
          >
            Number the parts
          </Checkbox>
        )}
      </div>
    </fieldset>
  );
}

const small = '!px-1.5 !py-0 text-ink underline underline-offset-3';
const over = (units: number | undefined, check: NetworkCheck | undefined) =>
  check !== undefined && (units ?? 0) > check.limit;
