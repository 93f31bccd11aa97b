import { Toast } from 'radix-ui';
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
/** Milliseconds; a notice under the pointer or the keys stays. */
const stays = 12_000;

export const useNotices = () => useContext(Context);

export function NoticesProvider({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<Notice[]>([]);
  const next = useRef(1);

  const drop = useCallback((id: number) => setShown((all) => all.filter((n) => n.id !== id)), []);
  const add = useCallback(
    (notice: Omit<Notice, 'id'>) =>
      setShown((all) => [...all.filter((n) => n.words !== notice.words).slice(-2), { ...notice, id: next.current++ }]),
    [],
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
      <Toast.Provider label="Notice" duration={stays} swipeDirection="left">
        {children}
        {shown.map((notice) => (
          <Toast.Root
            key={notice.id}
            type={notice.kind === 'trouble' ? 'foreground' : 'background'}
            duration={notice.kind === 'trouble' ? Number.POSITIVE_INFINITY : stays}
            onOpenChange={(open) => !open && drop(notice.id)}
            className={`flex items-center gap-3 rounded-md border-l-4 px-4 py-2.5 shadow-lg ${
              notice.kind === 'trouble' ? 'border-bad bg-bad-wash text-ink' : 'border-dawn bg-ink text-paper'
            }`}
          >
            <Toast.Description className="flex-1">{notice.words}</Toast.Description>
            {notice.act && (
              <Toast.Action asChild altText={`${notice.act.label}, in the notices (F8)`}>
                <Button
                  variant="quiet"
                  className="underline underline-offset-4 hover:bg-paper hover:text-ink"
                  onClick={notice.act.run}
                >
                  {notice.act.label}
                </Button>
              </Toast.Action>
            )}
            <Toast.Close aria-label="Put this notice away" className="px-1">
              ✕
            </Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport
          label="Notices ({hotkey})"
          className="fixed bottom-[calc(1.25rem+var(--foot,0px))] left-5 z-50 flex w-[min(30rem,calc(100vw-2.5rem))] flex-col gap-2 outline-none"
        />
      </Toast.Provider>
    </Context>
  );
}
