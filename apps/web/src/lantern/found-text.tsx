import type { Finding } from '@lantern/core/detection';
import { usePatternNames } from '../data/patterns';
import { InlinePress } from '../ui/inline-press';
import { EditorPopover } from '../ui/popover';
import { EvidenceSum } from '../shared/trace/evidence-sum';
import { piecesOf, shortened } from './pieces';

/** Text with what was found lit up; each finding opens to its evidence. Weak findings are listed below it. */
export function FoundText({
  text,
  findings,
}: {
  readonly text: string;
  readonly findings: readonly Finding[];
}) {
  const names = usePatternNames();
  const pieces = shortened(piecesOf(text, findings));
  const weak = findings.filter((finding) => !pieces.some((piece) => piece.finding === finding));
  return (
    <div>
      <div
        className="max-h-72 overflow-auto rounded border border-rule bg-paper p-2 font-mono text-[12.5px] break-words whitespace-pre-wrap"
        tabIndex={0}
        role="group"
        aria-label="Text with findings"
      >
        {pieces.map((piece, index) =>
          piece.finding ? (
            <FindingMark
              key={index}
              finding={piece.finding}
              value={piece.text}
              name={names.get(piece.finding.pattern) ?? piece.finding.pattern}
              lit
            />
          ) : (
            <span key={index}>{piece.text}</span>
          ),
        )}
      </div>
      {weak.length > 0 && (
        <ul className="mt-1.5 text-[12.5px] text-ink-2" aria-label="Weak findings">
          {weak.slice(0, 20).map((finding) => (
            <li key={`${finding.pattern}${finding.start}`}>
              <FindingMark
                finding={finding}
                value={text.slice(finding.start, finding.end)}
                name={names.get(finding.pattern) ?? finding.pattern}
              />
              , certain to {finding.certainty} only
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

interface MarkProps {
  readonly finding: Finding;
  readonly value: string;
  readonly name: string;
  readonly lit?: boolean;
}

function FindingMark({ finding, value, name, lit = false }: MarkProps) {
  const names = usePatternNames();
  const label = `${value}: ${name}, certain to ${finding.certainty}`;
  return (
    <EditorPopover
      wide
      label={label}
      trigger={
        <InlinePress aria-label={label} className={lit ? 'found' : 'part font-mono'}>
          {value}
        </InlinePress>
      }
    >
      <p className="mb-2 font-semibold">
        {name}, certain to {finding.certainty}
        {finding.cell && `, in cell ${finding.cell}`}
      </p>
      <EvidenceSum evidence={finding.evidence} />
      {finding.candidates && (
        <p className="mt-2 text-[12.5px] text-ink-2">
          Several patterns explain it:{' '}
          {finding.candidates
            .map(({ pattern, share }) => `${names.get(pattern) ?? pattern} (${Math.round(share * 100)} %)`)
            .join(', ')}
          . A rule that asks for one of them counts it when certainty times share is enough.
        </p>
      )}
      {finding.rivals.length > 0 && (
        <p className="mt-2 text-[12.5px] text-ink-2">
          Other possible explanations:{' '}
          {finding.rivals
            .map((rival) => `${names.get(rival.pattern) ?? rival.pattern} (${rival.certainty})`)
            .join(', ')}
          .
        </p>
      )}
    </EditorPopover>
  );
}
