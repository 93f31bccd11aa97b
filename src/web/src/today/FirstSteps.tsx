import { Link } from 'react-router';
import { useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { usePosts } from '../posts/posts';
import { useRotas } from '../rota/rota';
import { useWorkspacePath } from '../workspaces/workspace';

interface Step {
  to: string;
  words: string;
  why: string;
  done: boolean;
}

/** The way from an empty workspace to a week that goes out by itself; null once it has been gone, or while it isn't known how far. */
export function useFirstSteps(): readonly Step[] | null {
  const channels = useChannels().data;
  const categories = useCategories().data;
  const rotas = useRotas().data;
  const posts = usePosts({ category: '', stage: '', search: '' }).data;
  if (!channels || !categories || !rotas || !posts) return null;
  const steps = [
    {
      to: 'set-up',
      words: 'Connect a channel',
      why: 'an account on a network that posts go to',
      done: channels.length > 0,
    },
    {
      to: 'set-up?part=categories',
      words: 'Name a category',
      why: 'a kind of post that takes turns with others',
      done: categories.length > 0,
    },
    {
      to: 'rota',
      words: 'Lay out the recurring week',
      why: 'days and times at which categories go out',
      done: rotas.some((rota) => rota.slots.length > 0),
    },
    {
      to: 'posts/new',
      words: 'Fill the bank',
      why: 'write a post, or import a sheet of them',
      done: posts.total > 0,
    },
  ];
  return steps.every((step) => step.done) ? null : steps;
}

export function FirstSteps({ steps }: { steps: readonly Step[] }) {
  const { to } = useWorkspacePath();
  const next = steps.find((step) => !step.done);
  return (
    <section aria-label="First steps">
      <h2>First steps</h2>
      <ol className="ruled mt-2 border-ink border-t-[1.5px]">
        {steps.map((step, i) => (
          <li key={step.to} className="flex items-baseline gap-3 py-2" data-step={step.done ? 'done' : 'open'}>
            <span className={`w-6 text-right font-head font-semibold ${step === next ? 'text-dawn' : 'text-faded'}`}>
              {step.done ? '✓' : i + 1}
            </span>
            <span>
              {step.done ? (
                <span className="text-faded">
                  {step.words}
                  <span className="sr-only"> (done)</span>
                </span>
              ) : (
                <Link className="link font-medium" to={to(step.to)}>
                  {step.words}
                </Link>
              )}
              <span className="block text-faded text-sm">{step.why}</span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
