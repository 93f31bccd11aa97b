import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from 'react';
import { Button } from './Button';

interface Notice {
  id: number;
  words: string;
  kind: 'done' | 'trouble';
  act?: { label: string; run: () => void } | undefined;
}

interface Notices {
  /** Tells that something was done; `act` is usually its undoing. */
  tell: (words: string, act?: Notice['act']) => void;
  /** Tells that something went wrong; it stays until it is closed. */
  trouble: (words: string) => void;
}

const Context = createContext<Notices>({ tell: () => {}, trouble: () => {} });
const stays = 12_000;

export const useNotices = () => useContext(Context);

export function NoticesProvider({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<Notice[]>([]);
  const next = useRef(1);

  const drop = useCallback((id: number) => setShown((all) => all.filter((n) => n.id !== id)), []);
  const add = useCallback(
    (notice: Omit<Notice, 'id'>) => {
      const id = next.current++;
      setShown((all) => [...all.filter((n) => n.words !== notice.words).slice(-2), { ...notice, id }]);
      if (notice.kind === 'done') setTimeout(() => drop(id), stays);
    },
    [drop],
  );
  const value = useMemo<Notices>(
    () => ({
      tell: (words, act) => add({ words, kind: 'done', act }),
      trouble: (words) => add({ words, kind: 'trouble' }),
    }),
    [add],
  );

  return (
    <Context value={value}>
      {children}
      <section
        aria-label="Notices"
        aria-live="polite"
        className="pointer-events-none fixed bottom-5 left-5 z-50 flex w-[30rem] flex-col gap-2"
      >
        {shown.map((notice) => (
          <div
            key={notice.id}
            role={notice.kind === 'trouble' ? 'alert' : 'status'}
            className={`pointer-events-auto flex items-center gap-3 rounded-md border-l-4 px-4 py-2.5 shadow-lg ${
              notice.kind === 'trouble' ? 'border-bad bg-bad-wash text-ink' : 'border-dawn bg-ink text-paper'
            }`}
          >
            <span className="flex-1">{notice.words}</span>
            {notice.act && (
              <Button
                variant="quiet"
                className="underline underline-offset-4 hover:bg-paper hover:text-ink"
                onClick={() => {
                  notice.act?.run();
                  drop(notice.id);
                }}
              >
                {notice.act.label}
              </Button>
            )}
            <button type="button" aria-label="Put this notice away" className="px-1" onClick={() => drop(notice.id)}>
              ✕
            </button>
          </div>
        ))}
      </section>
    </Context>
  );
}
