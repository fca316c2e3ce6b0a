import { lazy, Suspense } from 'react';
import { useMay } from '../data/session';
import { useLantern } from '../stores/lantern-store';
import { Loading } from '../ui/notice';

/** Loaded when it is first opened: it brings the whole core along. */
const Panel = lazy(async () => ({ default: (await import('./panel')).Panel }));

/** The tab at the right edge, and the panel it pulls out. */
export function LanternPanel() {
  const { open, toggle } = useLantern();
  const may = useMay('lantern.use');
  if (!may) return null;
  return (
    <>
      {open && (
        <Suspense fallback={<Loading what="the Lantern" />}>
          <Panel />
        </Suspense>
      )}
      <button
        type="button"
        onClick={toggle}
        aria-expanded={open}
        aria-controls="lantern"
        className="flex w-7 shrink-0 flex-col items-center gap-3 border-l border-rule bg-found-soft pt-4 text-[12.5px] font-semibold"
      >
        <span className="[writing-mode:vertical-rl]">Lantern</span>
        <span aria-hidden>L</span>
      </button>
    </>
  );
}
