import type { Form } from './states';

/** What each form is drawn with, in a box of 24 × 12. Told apart by shape alone, without colour. */
const drawings: Record<Form, React.ReactNode> = {
  open: <rect x="1" y="1" width="22" height="10" strokeDasharray="1.5 2.4" />,
  scheduled: (
    <>
      <rect x="1" y="1" width="22" height="10" />
      <path d="M1 1H12V11H1Z" fill="currentColor" />
    </>
  ),
  sending: (
    <>
      <rect x="1" y="1" width="22" height="10" />
      <path d="M6 1V11M12 1V11M18 1V11" strokeWidth="2.6" />
    </>
  ),
  sent: <rect x="1" y="1" width="22" height="10" fill="currentColor" />,
  // The notch that a card has.
  failed: <path d="M1 1H11L15 7L19 1H23V11H1Z" fill="currentColor" fillOpacity="0.25" />,
  empty: <path d="M1 10.5H6M9.5 10.5H14.5M18 10.5H23" />,
};

export function StateMark({ form, size = 12 }: { form: Form; size?: number }) {
  return (
    <svg
      viewBox="0 0 24 12"
      width={size * 2}
      height={size}
      aria-hidden="true"
      data-form={form}
      className={`inline-block shrink-0 ${form === 'failed' ? 'text-bad' : ''}`}
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
    >
      {drawings[form]}
    </svg>
  );
}
