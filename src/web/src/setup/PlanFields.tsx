import { useQuery } from '@tanstack/react-query';
import { Fragment } from 'react';
import { api, ask } from '../api/client';
import { limits } from '../api/limits';
import { type Category, type CategoryEdit, useDraw } from '../categories/categories';
import { OrderFields, type OrderRule, Word } from '../categories/OrderFields';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { useWorkspacePath } from '../workspaces/workspace';

/** How a category takes turns, and what its new posts start with. */
export type Plan = Required<Pick<CategoryEdit, 'gapDays' | 'targetShare' | 'needsApproval' | 'newPostsRotate'>> & {
  order: OrderRule;
  lifespan: Category['lifespan'];
  hashtags: string[];
};

interface Props {
  category: Category | null;
  plan: Plan;
  change: (part: Partial<Plan>) => void;
}

export function PlanFields({ category, plan, change }: Props) {
  const orders = useOrders(category?.id);
  const next = Object.fromEntries((orders.data ?? []).map((o) => [o.order, o.next]));
  return (
    <div className="flex flex-col gap-5 border-rule border-t pt-4">
      <OrderFields
        label="Order of its posts"
        value={plan.order}
        next={next}
        onChange={(order) => order && change({ order })}
        newPosts={[
          <Word
            key="joins"
            label="New posts: whether they join the rotation"
            value={plan.newPostsRotate ? 'join' : 'stay'}
            options={[
              { value: 'join', label: 'join the rotation' },
              { value: 'stay', label: 'stay out of the rotation' },
            ]}
            onChange={(joins) => change({ newPostsRotate: joins === 'join' })}
          />,
          <Fragment key="lifespan">
            and
            <Word
              label="New posts: how often"
              value={plan.lifespan}
              options={[
                { value: 'evergreen', label: 'may come round again' },
                { value: 'once', label: 'go once on each channel' },
                { value: 'onceAltogether', label: 'go once altogether' },
              ]}
              onChange={(lifespan) => change({ lifespan: lifespan as Plan['lifespan'] })}
            />
          </Fragment>,
        ]}
      />
      {category?.order.order === 'shuffled' && plan.order.order === 'shuffled' && (
        <Draw category={category} onDrawn={() => change({ order: { ...plan.order, seed: plan.order.seed + 1 } })} />
      )}
      <div className="grid grid-cols-2 gap-4">
        <Field label="Repeat gap, days" hint={gapHint(category, plan.gapDays ?? null)}>
          {(id) => (
            <input
              id={id}
              type="number"
              {...limits.CategoryEdit.gapDays}
              className="field"
              value={plan.gapDays ?? ''}
              onChange={(e) => change({ gapDays: e.target.value ? e.target.valueAsNumber : null })}
            />
          )}
        </Field>
        <Field label="Target share, %" hint="Of all that is sent">
          {(id) => (
            <input
              id={id}
              type="number"
              min={0}
              max={100}
              className="field"
              value={
                plan.targetShare === null || plan.targetShare === undefined ? '' : Math.round(plan.targetShare * 100)
              }
              onChange={(e) => change({ targetShare: e.target.value ? e.target.valueAsNumber / 100 : null })}
            />
          )}
        </Field>
      </div>
      <Field label="Hashtags that a new post starts with">
        {(id) => (
          <input
            id={id}
            className="field"
            placeholder="#birds #island"
            defaultValue={plan.hashtags.map((h) => `#${h}`).join(' ')}
            onChange={(e) => change({ hashtags: e.target.value.split(/\s+/).filter(Boolean) })}
          />
        )}
      </Field>
      <Checkbox checked={plan.needsApproval} onChange={(needsApproval) => change({ needsApproval })}>
        A post needs approval before it goes out
      </Checkbox>
      {plan.needsApproval && !category?.needsApproval && (
        <p className="text-faded text-sm">What is ready now and has no approval waits for one from then on.</p>
      )}
    </div>
  );
}

/** What a gap asks of the bank, in words. */
const gapHint = (category: Category | null, gap: number | null) =>
  gap === null
    ? 'Empty: never twice on one date'
    : category
      ? `${category.posts} ${category.posts === 1 ? 'post' : 'posts'} now; below stands what the gap leaves empty`
      : 'On each channel';

function useOrders(categoryId: string | undefined) {
  const { id: workspace, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', workspace, 'orders', categoryId],
    enabled: categoryId !== undefined,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/categories/{id}/orders', {
          params: { path: { ...path, id: categoryId ?? '' } },
        }),
      ),
  });
}

function Draw({ category, onDrawn }: { category: Category; onDrawn: () => void }) {
  const draw = useDraw();
  return (
    <Button
      className="self-start"
      disabled={draw.isPending}
      onClick={() => draw.mutate(category, { onSuccess: onDrawn })}
    >
      Shuffle anew
    </Button>
  );
}
