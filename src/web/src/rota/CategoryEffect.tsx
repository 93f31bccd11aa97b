import { useState } from 'react';
import type { Schemas } from '../api/client';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { changeWords, figures, lineOf, percent, useScheduled, Was } from './figures';
import { useWhatIf } from './rota';

/** Weeks over which settings are tried. */
const weeks = 12;
/** Milliseconds that settings stand before they are asked about. */
const pause = 250;

/** What a category's settings would lead to, beside what is; and what some more posts would do. */
export function CategoryEffect({ tried }: { tried: Schemas['CategoryTry'] }) {
  const [more, setMore] = useState(0);
  const asked = useScheduled(
    { categories: [tried], ...(more > 0 && { morePosts: [{ categoryId: tried.id, count: more }] }) },
    pause,
  );
  const whatIf = useWhatIf(asked, weeks);
  const after = whatIf.data?.after.categories.find((c) => c.categoryId === tried.id);
  const line = whatIf.data && after && lineOf(whatIf.data, after, true);
  return (
    <section aria-label="What this leads to" className="border-rule border-t pt-4">
      <h3>What this leads to, over {weeks} weeks</h3>
      <FormError error={whatIf.error} />
      {whatIf.data && line && (
        <>
          <p className="mt-1 text-faded text-sm" role="status">
            {changeWords(whatIf.data)}
          </p>
          <dl className="mt-2 grid grid-cols-[1fr_auto] gap-x-4 gap-y-1" data-effect>
            <dt>Share</dt>
            <dd className="text-right font-head">
              <Was line={line} of={(c) => percent(c.share)} />
            </dd>
            {figures.map((figure) => (
              <Row key={figure.name} name={figure.name} hint={figure.title}>
                <Was line={line} of={(c) => figure.of(c, weeks)} />
              </Row>
            ))}
          </dl>
        </>
      )}
      <Field label="And with so many posts more" className="mt-3">
        {(id) => (
          <input
            id={id}
            type="number"
            min={0}
            max={500}
            className="field !w-24"
            value={more}
            onChange={(e) => setMore(Math.min(500, Math.max(0, e.target.valueAsNumber || 0)))}
          />
        )}
      </Field>
    </section>
  );
}

function Row({ name, hint, children }: { name: string; hint: string | undefined; children: React.ReactNode }) {
  return (
    <>
      <dt>
        {name} {hint && <span className="block text-faded text-sm">{hint.toLowerCase()}</span>}
      </dt>
      <dd className="text-right font-head">{children}</dd>
    </>
  );
}
