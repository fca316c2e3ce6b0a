import type { EvidencePart, ExcerptPiece } from '@lantern/contracts';
import { usePatternNames } from '../../data/patterns';
import { InlinePress } from '../../ui/inline-press';
import { EditorPopover } from '../../ui/popover';
import { UNREADABLE_WORDS } from '../../wording/terms';
import { EvidenceSum } from '../trace/evidence-sum';

/** One part of an item with what was found in it, each finding opening why it is certain. */
export function EvidencePartView({ part }: { readonly part: EvidencePart }) {
  const place = part.path.join(' › ');
  return (
    <section aria-label={place} className="mb-3 rounded border border-rule">
      <p className="flex justify-between gap-3 border-b border-rule bg-paper px-3 py-1.5 text-[12.5px]">
        <b className="break-words">{place}</b>
        <span className="whitespace-nowrap text-ink-2">
          {part.unreadable ? 'could not be read' : `${part.findings} found`}
        </span>
      </p>
      {part.unreadable && (
        <p className="px-3 py-2">This part could not be read: {UNREADABLE_WORDS[part.unreadable]}.</p>
      )}
      <div className="max-h-72 overflow-auto">
        {part.excerpts.map((excerpt, index) => (
          <div
            key={index}
            className="flex gap-3 border-b border-dotted border-rule px-3 py-2 last:border-b-0"
          >
            <span className="w-8 shrink-0 text-right font-mono text-[12px] text-ink-2">
              <span className="sr-only">line </span>
              {excerpt.line}
            </span>
            <div
              className={`min-w-0 font-mono text-[12.5px] leading-6 [tab-size:13] ${tabular(excerpt.pieces) ? 'whitespace-pre' : 'break-words whitespace-pre-wrap'}`}
            >
              {excerpt.pieces.map((piece, index) => (
                <Piece key={index} piece={piece} />
              ))}
            </div>
          </div>
        ))}
      </div>
      {part.notShown > 0 && (
        <p className="px-3 py-1.5 text-[12.5px] text-ink-2">
          {part.notShown} more are counted but not shown.
        </p>
      )}
    </section>
  );
}

/** Rows of a sheet keep their columns under each other and scroll sideways; prose wraps. */
function tabular(pieces: readonly ExcerptPiece[]): boolean {
  return pieces.some((piece) => piece.text.includes('\t'));
}

function Piece({ piece }: { readonly piece: ExcerptPiece }) {
  const names = usePatternNames();
  if (!('pattern' in piece)) return <>{piece.text}</>;
  const name = names.get(piece.pattern) ?? piece.pattern;
  return (
    <EditorPopover
      wide
      label={`${name}, certain to ${piece.certainty}`}
      trigger={
        <InlinePress className="found" aria-label={`${piece.text}: ${name}, certain to ${piece.certainty}`}>
          {piece.text}
        </InlinePress>
      }
    >
      <p className="mb-2 font-semibold">
        {name}, certain to {piece.certainty}
        {piece.cell && `, in cell ${piece.cell}`}
      </p>
      <EvidenceSum evidence={piece.evidence} />
    </EditorPopover>
  );
}
