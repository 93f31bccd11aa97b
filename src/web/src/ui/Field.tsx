import { type ReactNode, useId } from 'react';

interface Props {
  label: ReactNode;
  hint?: ReactNode;
  error?: string | null | undefined;
  className?: string;
  children: (id: string, describedBy: string | undefined) => ReactNode;
}

/** A label above its input, with a hint or an error below. */
export function Field({ label, hint, error, className = '', children }: Props) {
  const id = useId();
  const below = error ?? hint;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-sm text-faded">
        {label}
      </label>
      {children(id, below ? `${id}-below` : undefined)}
      {below && (
        <p
          id={`${id}-below`}
          role={error ? 'alert' : undefined}
          className={`mt-1 text-sm ${error ? 'text-bad' : 'text-faded'}`}
        >
          {below}
        </p>
      )}
    </div>
  );
}
