import type { Finding } from '@lantern/core/detection';

export interface Piece {
  readonly text: string;
  readonly finding: Finding | null;
}

/** Findings that are worth lighting up. Weaker ones are listed, not lit. */
export const LIT_FROM = 50;

/** Cuts a text at its findings. Where two share characters the first one is lit whole. */
export function piecesOf(text: string, findings: readonly Finding[], from: number = LIT_FROM): Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  for (const finding of findings) {
    if (finding.certainty < from || finding.start < at) continue;
    if (finding.start > at) pieces.push({ text: text.slice(at, finding.start), finding: null });
    pieces.push({ text: text.slice(finding.start, finding.end), finding });
    at = finding.end;
  }
  if (at < text.length) pieces.push({ text: text.slice(at), finding: null });
  return pieces;
}

/** Characters kept on either side of a finding when a long text is shown. */
const AROUND = 160;

/** A long text cut to what surrounds its findings; short ones whole. */
export function shortened(pieces: readonly Piece[], longest = 4000): Piece[] {
  const total = pieces.reduce((sum, piece) => sum + piece.text.length, 0);
  if (total <= longest) return [...pieces];
  return pieces.map((piece, index) => {
    if (piece.finding || piece.text.length <= AROUND * 2) return piece;
    const head = index === 0 ? '' : piece.text.slice(0, AROUND);
    const tail = index === pieces.length - 1 ? '' : piece.text.slice(-AROUND);
    return { text: `${head} … ${tail}`, finding: null };
  });
}
