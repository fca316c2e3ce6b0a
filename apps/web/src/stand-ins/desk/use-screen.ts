import { toJpeg } from 'html-to-image';
import { type RefObject, useCallback, useEffect, useRef } from 'react';

/** JPEG quality at which text stays readable. A picture is then a few dozen kilobytes. */
const QUALITY = 0.6;
/** Longest time for one picture; a slower one is left out. */
const WITHIN_MS = 1_500;

/** A window and the pictures of it. Each picture is a time (RFC 3339), a space, and a JPEG in base 64. */
export interface Screen {
  readonly window: RefObject<HTMLDivElement | null>;
  /** Pictures of the window: as it was opened, and now. Empty where none can be taken. */
  readonly pictures: () => Promise<string[]>;
}

/** Takes a picture of the window when a target is opened, and another when something is submitted. */
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

/** How long the first picture may be used: below the five minutes that the server accepts. */
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
