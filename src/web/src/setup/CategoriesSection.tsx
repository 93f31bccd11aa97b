import { useState } from 'react';
import { limits } from '../api/limits';
import { ColourChoice } from '../categories/ColourChoice';
import {
  type Category,
  CategoryName,
  useCategories,
  useRemoveCategory,
  useSaveCategory,
} from '../categories/categories';
import { initials, palette } from '../categories/palette';
import { RemoveButton } from '../changes/RemoveButton';
import { ChannelChoice, ChannelName } from '../channels/channels';
import { PauseButton } from '../pauses/PauseButton';
import { CategoryEffect } from '../rota/CategoryEffect';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { type Plan, PlanFields } from './PlanFields';

export function CategoriesSection() {
  const categories = useCategories();
  const [open, setOpen] = useState<Category | 'new' | null>(null);
  return (
    <section aria-labelledby="categories" className="max-w-3xl">
      <h2 id="categories" className="border-ink border-b-[1.5px] pb-1">
        Categories
      </h2>
      <Fetched query={categories} what="the categories">
        {(list) => (
          <>
            {list.length === 0 && (
              <p className="py-3 text-faded">None yet. Name the handful of kinds of post that serve your plan.</p>
            )}
            <ul className="ruled">
              {list.map((category) => (
                <li key={category.id} className="flex items-center gap-3 py-2">
                  <span className="min-w-0 flex-1">
                    <CategoryName id={category.id} />
                    <span className="flex flex-wrap gap-x-3 text-faded text-sm">
                      {category.usualChannels.length === 0
                        ? 'No usual channels'
                        : category.usualChannels.map((id) => <ChannelName key={id} id={id} />)}
                    </span>
                  </span>
                  <span className="text-faded text-sm">
                    {category.posts} {category.posts === 1 ? 'post' : 'posts'}
                  </span>
                  <PauseButton what="category" target={category.id} name={category.name} />
                  <Button aria-label={`Change ${category.name}`} onClick={() => setOpen(category)}>
                    Change
                  </Button>
                </li>
              ))}
            </ul>
          </>
        )}
      </Fetched>
      <Button className="mt-3" onClick={() => setOpen('new')}>
        Add a category
      </Button>
      <Sheet
        open={open !== null}
        title={open === 'new' ? 'A new category' : 'The category'}
        onClose={() => setOpen(null)}
      >
        {open && (
          <CategoryForm
            key={open === 'new' ? 'new' : open.id}
            category={open === 'new' ? null : open}
            onDone={() => setOpen(null)}
          />
        )}
      </Sheet>
    </section>
  );
}

function CategoryForm({ category, onDone }: { category: Category | null; onDone: () => void }) {
  const save = useSaveCategory();
  const taken = useCategories().data?.map((c) => c.colour) ?? [];
  const [name, setName] = useState(category?.name ?? '');
  const [monogram, setMonogram] = useState(category?.monogram ?? '');
  const [colour, setColour] = useState(
    category?.colour ?? Object.keys(palette).find((c) => !taken.includes(c)) ?? 'tide',
  );
  const [usualChannels, setChannels] = useState<string[]>(category?.usualChannels ?? []);
  const [plan, setPlan] = useState<Plan>({
    order: category?.order ?? { order: 'newestFirst', freshFirst: false, pastGap: false, seed: 0 },
    gapDays: category?.gapDays ?? null,
    targetShare: category?.targetShare ?? null,
    lifespan: category?.lifespan ?? 'evergreen',
    hashtags: category?.hashtags ?? [],
    needsApproval: category?.needsApproval ?? false,
    newPostsRotate: category?.newPostsRotate ?? true,
  });
  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          {
            id: category?.id ?? null,
            edit: { name, monogram: monogram || initials(name), colour, usualChannels, ...plan },
          },
          { onSuccess: onDone },
        );
      }}
    >
      <Field label="Name of the category">
        {(id) => (
          <input
            id={id}
            className="field"
            required
            {...limits.CategoryEdit.name}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        )}
      </Field>
      <Field label="Monogram, two letters">
        {(id) => (
          <input
            id={id}
            className="field !w-20"
            maxLength={2}
            placeholder={initials(name)}
            value={monogram}
            onChange={(e) => setMonogram(e.target.value)}
          />
        )}
      </Field>
      <ColourChoice value={colour} onChange={setColour} />
      <ChannelChoice label="Usual channels" value={usualChannels} onChange={setChannels} />
      <PlanFields category={category} plan={plan} change={(part) => setPlan({ ...plan, ...part })} />
      {category && (
        <CategoryEffect
          tried={{
            id: category.id,
            order: plan.order,
            gapDays: plan.gapDays ?? null,
            targetShare: plan.targetShare ?? null,
            usualChannels,
          }}
        />
      )}
      <FormError error={save.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={save.isPending}>
          {category ? 'Save the category' : 'Add the category'}
        </Button>
        {category && <Remove category={category} onDone={onDone} />}
      </div>
    </form>
  );
}

function Remove({ category, onDone }: { category: Category; onDone: () => void }) {
  const remove = useRemoveCategory();
  return (
    <RemoveButton
      label="Remove"
      id={category.id}
      remove={remove}
      words={() => `${category.name} is gone.`}
      onDone={onDone}
    />
  );
}
