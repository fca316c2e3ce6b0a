import { useEffect, useRef } from 'react';

/** Well within the 90 seconds after which the server takes a silent page for closed. */
const SAY_SO_EVERY_MS = 20_000;

/** As long as this is shown, says that the page with a question is open; says too when it goes. */
export function useOpenPage(id: string, say: (id: string, open: boolean) => void): void {
  const latest = useRef(say);
  useEffect(() => {
    latest.current = say;
  });
  useEffect(() => {
    const open = () => latest.current(id, true);
    const close = () => latest.current(id, false);
    open();
    const timer = setInterval(open, SAY_SO_EVERY_MS);
    // A page that comes back out of the browser's memory is open again.
    window.addEventListener('pageshow', open);
    window.addEventListener('pagehide', close);
    return () => {
      clearInterval(timer);
      window.removeEventListener('pageshow', open);
      window.removeEventListener('pagehide', close);
      close();
    };
  }, [id]);
}
