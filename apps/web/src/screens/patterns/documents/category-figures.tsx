import type { DocumentsDetail } from '@lantern/contracts';
import { ENOUGH_SAMPLES, type WordPart } from '@lantern/core/detection';
import { Notice } from '../../../ui/notice';
import { fewWords, shareWords } from '../../../wording/documents';
import { weightWords } from '../../../wording/evidence';

/** How a category did on samples it was not learnt from, and the words that drive it. */
export function CategoryFigures({ report }: { readonly report: NonNullable<DocumentsDetail['report']> }) {
  const few = fewWords(report, ENOUGH_SAMPLES);
  return (
    <section aria-label="Quality of the result" className="flex flex-col gap-3">
      {few && <Notice>{few}</Notice>}
      <table className="w-fit text-[13px]" aria-label="Samples kept for testing">
        <thead>
          <tr className="border-b border-rule-strong text-left text-[12.5px] text-ink-2">
            {['Found from certainty', 'Precision', 'Recall'].map((heading) => (
              <th key={heading} className="py-1 pr-8 font-semibold">
                {heading}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {report.heldOut.map(({ certainty, precision, recall }) => (
            <tr key={certainty} className="border-b border-dotted border-rule">
              <td className="py-1 pr-8">{certainty}</td>
              <td className="pr-8">{shareWords(precision)}</td>
              <td className="pr-8">{shareWords(recall)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[12.5px] text-ink-2">
        Measured over {report.like} texts of this kind and {report.unlike} other texts. Each was judged by a
        model that had not seen it. Ranges: 95 % confidence.
      </p>
      <div className="grid grid-cols-2 gap-3 text-[13px]">
        <Words heading="Words that count for it" words={report.wordsFor} />
        <Words heading="Words that count against it" words={report.wordsAgainst} />
      </div>
    </section>
  );
}

function Words({ heading, words }: { readonly heading: string; readonly words: readonly WordPart[] }) {
  return (
    <p>
      <b className="block text-[12.5px] text-ink-2">{heading}</b>
      {words.length === 0
        ? 'none'
        : words.map(({ word, weight }) => (
            <span key={word} className="mr-3 inline-block whitespace-nowrap">
              {word} <span className="text-ink-2">{weightWords(weight)}</span>
            </span>
          ))}
    </p>
  );
}
