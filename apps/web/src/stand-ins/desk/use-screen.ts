import { toJpeg } from 'html-to-image';
import { type RefObject, useCallback, useEffect, useRef } from 'react';

/** Enough to read what stood there; a picture is a few dozen kilobytes. */
const QUALITY = 0.6;
/** A picture that takes longer is left out: nobody waits for it. */
const WITHIN_MS = 1_500;

/** What the screen shows, as the agent of the machine hands it in: a time and a picture in base 64. */
export interface Screen {
  readonly window: RefObject<HTMLDivElement | null>;
  /** Pictures of the window: as it was opened, and now. Empty where none can be taken. */
  readonly pictures: () => Promise<string[]>;
}

/** The agent of the machine takes a picture when a target is opened, and another when something is put into it. */
export function useScreen(opened: string): Screen {
  const window = useRef<HTMLDivElement>(null);
  const before = useRef<string | null>(null);
  useEffect(() => {
    before.current = null;
    const timer = setTimeout(() => {
      void pictureOf(window.current).then((picture) => (before.current = picture));
    }, 600);
    return () => clearTimeout(timer);
  }, [opened]);
  const pictures = useCallback(async () => {
    const now = await pictureOf(window.current);
    const recent = before.current && isRecent(before.current) ? [before.current] : [];
    return now ? [...recent, now] : recent;
  }, []);
  return { window, pictures };
}

/** The agent keeps a picture for a short time only. */
const KEPT_MS = 4 * 60_000;
const isRecent = (picture: string): boolean => Date.now() - Date.parse(picture.split(' ')[0] ?? '') < KEPT_MS;

async function pictureOf(window: HTMLElement | null): Promise<string | null> {
  if (!window) return null;
  const at = new Date().toISOString();
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), WITHIN_MS));
  const taken = toJpeg(window, {
    quality: QUALITY,
    pixelRatio: 1,
    skipFonts: true,
    backgroundColor: '#fff',
    // Only what the window shows, however far its content goes on below.
    height: window.clientHeight,
    width: window.clientWidth,
  }).catch(() => null);
  const url = await Promise.race([taken, late]);
  const base64 = url?.split(',')[1];
  return base64 ? `${at} ${base64}` : null;
}
