import { type LanternSide } from '@lantern/contracts';
import type { NearestPattern } from '@lantern/core/detection';
import { useEffect, useState } from 'react';
import { EvidenceSum } from '../shared/trace/evidence-sum';
import { usePatternNames } from '../data/patterns';
import { Button } from '../ui/button';
import { EditorPopover } from '../ui/popover';
import { InlinePress } from '../ui/inline-press';
import { missingWords } from '../wording/missing';
import { askWhyNot } from './ask-why-not';

/** Stretch of the text that is selected. */
export interface Selected {
  readonly from: number;
  readonly to: number;
}

/** Shorter stretches are a slip of the mouse. */
const SHORTEST = 3;

interface WhyNotProps {
  readonly text: string;
  readonly selected: Selected;
  readonly drafts: LanternSide;
}

/** Asks why a selected stretch is not found, and names the patterns that came nearest with what they missed. */
export function WhyNot({ text, selected, drafts }: WhyNotProps) {
  const names = usePatternNames();
  const [answer, setAnswer] = useState<readonly NearestPattern[] | 'asking' | null>(null);
  const { from, to } = selected;
  useEffect(() => setAnswer(null), [text, from, to]);
  if (to - from < SHORTEST) return null;
  const stretch = text.slice(from, to);
  const ask = () => {
    setAnswer('asking');
    askWhyNot({ text, from, to, own: drafts.own })
      .then(setAnswer)
      .catch(() => setAnswer([]));
  };
  return (
    <div className="rounded border border-rule bg-sunk p-2" role="status">
      <div className="flex items-center gap-2">
        <code className="min-w-0 flex-1 truncate font-mono text-[12.5px]">{stretch}</code>
        <Button onClick={ask}>{answer === 'asking' ? 'Looking …' : 'Why is this not found?'}</Button>
      </div>
      {Array.isArray(answer) && answer.length === 0 && (
        <p className="mt-1.5 text-[12.5px]">
          No pattern comes close. If this is sensitive, create a pattern or a word list for it.
        </p>
      )}
      {Array.isArray(answer) && answer.length > 0 && (
        <ol className="mt-1.5 text-[12.5px]" aria-label="Nearest patterns">
          {answer.map((near: NearestPattern) => (
            <li key={near.pattern} className="border-t border-dotted border-rule py-1">
              <b>{names.get(near.pattern) ?? near.pattern}</b>: {missingWords(near)}
              {near.evidence.length > 0 && (
                <>
                  {' '}
                  <EditorPopover
                    wide
                    label={`Sum of ${near.pattern}`}
                    trigger={<InlinePress className="part">its sum</InlinePress>}
                  >
                    <p className="mb-2 font-semibold">
                      {names.get(near.pattern) ?? near.pattern}, certain to {near.certainty}
                    </p>
                    <EvidenceSum evidence={near.evidence} />
                  </EditorPopover>
                </>
              )}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}
