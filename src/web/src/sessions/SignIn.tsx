import { useEffect, useState } from 'react';
import { onSignedOut, wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useSignIn } from './session';

function SignInForm({ onDone }: { onDone?: () => void }) {
  const signIn = useSignIn();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        signIn.mutate({ email, password }, { onSuccess: () => onDone?.() });
      }}
    >
      <Field label="E-mail">
        {(id) => (
          <input
            id={id}
            className="field"
            type="email"
            autoComplete="username"
            required
            value={email}
            onChange={(e) => setEmail(e.target.value)}
          />
        )}
      </Field>
      <Field label="Password" error={signIn.error ? wordsOf(signIn.error) : null}>
        {(id, describedBy) => (
          <input
            id={id}
            className="field"
            type="password"
            autoComplete="current-password"
            required
            aria-describedby={describedBy}
            aria-invalid={signIn.error ? true : undefined}
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        )}
      </Field>
      <div>
        <Button type="submit" variant="primary" disabled={signIn.isPending}>
          {signIn.isPending ? 'Signing in …' : 'Sign in'}
        </Button>
      </div>
    </form>
  );
}

export function SignInPage() {
  return (
    <main className="mx-auto grid min-h-screen max-w-5xl grid-cols-[1fr_22rem] items-center gap-20 px-8">
      <div>
        <svg viewBox="0 0 400 150" className="mb-8 w-full max-w-md text-ink" aria-hidden="true">
          <path d="M150 110a50 50 0 0 1 100 0Z" fill="var(--dawn)" />
          <path d="M0 110H400M30 122H370M80 133H320" stroke="var(--rule-strong)" strokeWidth="1.5" />
          <path
            d="M262 40c14-8 26-6 38 8 10-18 24-20 40-12M300 48l2 10"
            fill="none"
            stroke="currentColor"
            strokeWidth="4"
            strokeLinecap="round"
          />
        </svg>
        <h1 className="!text-5xl">Able Lark</h1>
        <p className="mt-3 max-w-md text-faded text-lg">
          The week by category: what goes out, when, on which channel, and why that one. Then what it earned.
        </p>
      </div>
      <div className="border-rule border-l pl-10">
        <h2 className="mb-5">Sign in</h2>
        <SignInForm />
      </div>
    </main>
  );
}

/** Comes up over whatever is open when the session runs out, so that nothing typed is lost. */
export function SignInAgain() {
  const [open, setOpen] = useState(false);
  useEffect(() => onSignedOut(() => setOpen(true)), []);
  return (
    <Dialog
      open={open}
      title="Your session has run out"
      description="Sign in again to go on. What you typed is still here."
      className="w-96 p-6"
    >
      <SignInForm onDone={() => setOpen(false)} />
    </Dialog>
  );
}
