import type { ItemDetail } from '@lantern/contracts/discovery';
import { Link } from 'react-router';
import { useItem } from '../../../data/discovery';
import { Loading, Notice } from '../../../ui/notice';
import {
  historyWords,
  number,
  REACH_WORDS,
  reasonWords,
  size,
  STATE_WORDS,
} from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, exactTime } from '../../../wording/times';
import { itemsPath } from '../discovery-page';
import { ActBar } from './act-bar';
import { ItemIncident } from './item-incident';
import { WholeItem } from './whole-item';

/** One item: where it lies, what was found in it, masked, and what became of it. */
export function ItemView({ id }: { readonly id: string }) {
  const item = useItem(id);
  if (item.error) return <Notice look="stop">{errorSentence(item.error)}</Notice>;
  if (!item.data) return <Loading what="the item" />;
  const { data } = item;
  const now = new Date();
  return (
    <article aria-label={data.path}>
      <h2 className="text-[14.5px] break-all text-ink">{data.path}</h2>
      <p className="text-[12.5px] text-ink-2">
        <Link className="part" to={`/discovery?place=${data.place.id}`}>
          {data.place.name}
        </Link>
        {data.owner && ` · ${data.owner}`} · {size(data.bytes)}
        {data.changedAt && (
          <span title={exactTime(data.changedAt)}> · changed {ago(data.changedAt, now)}</span>
        )}
      </p>
      <p className="mt-1">
        {data.state === 'unreadable'
          ? `Could not be read: ${reasonWords(data.reason)}.`
          : data.state === 'left-out'
            ? `Left out: ${reasonWords(data.reason)}.`
            : `${STATE_WORDS[data.state][0]?.toUpperCase() ?? ''}${STATE_WORDS[data.state].slice(1)}`}
        {data.readAt && (
          <span title={exactTime(data.readAt)}>
            {' '}
            {ago(data.readAt, now)}
            {data.reader && ` by ${data.reader}`}
            {data.revision !== null && `, revision ${data.revision}`}.
          </span>
        )}{' '}
        Opened by {REACH_WORDS[data.reach]}. {data.label ? `Label: ${data.label}.` : 'No label.'}
        {data.suggested && ` Rules call for ${data.suggested}.`}
        {data.misplaced && ' Its kind should not lie there.'}
        {data.quarantined && ' It is in quarantine.'}
      </p>
      <Found item={data} />
      <ItemIncident item={data} />
      <Excerpts item={data} />
      <WholeItem item={data} />
      {data.unreadableParts.length > 0 && (
        <section aria-label="Parts that could not be read" className="mt-3">
          <h3 className="text-[12.5px] font-semibold text-ink-2">Parts that could not be read</h3>
          <ul className="text-[12.5px]">
            {data.unreadableParts.map(({ path, reason }) => (
              <li key={path}>
                <span className="font-mono break-all">{path || 'the item itself'}</span>:{' '}
                {reasonWords(reason)}
              </li>
            ))}
          </ul>
        </section>
      )}
      {data.copiesAt.length > 0 && (
        <section aria-label="Copies" className="mt-3">
          <h3 className="text-[12.5px] font-semibold text-ink-2">The same bytes lie at</h3>
          <ul className="text-[12.5px]">
            {data.copiesAt.map(({ id: copy, place, path }) => (
              <li key={copy}>
                <Link className="part break-all" to={`/discovery/items?item=${copy}`}>
                  {place} › {path}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      {data.history.length > 0 && (
        <section aria-label="History" className="mt-3">
          <h3 className="text-[12.5px] font-semibold text-ink-2">History</h3>
          <ol className="text-[12.5px]">
            {data.history.map((entry) => (
              <li key={`${entry.at} ${entry.what}`} title={exactTime(entry.at)}>
                {historyWords(entry)}, {ago(entry.at, now)}
              </li>
            ))}
          </ol>
        </section>
      )}
      <div className="mt-4 border-t border-rule pt-2">
        <ActBar items={[data.id]} isQuarantined={data.quarantined} onDone={() => undefined} />
      </div>
    </article>
  );
}

/** What was found, each kind leading to its pattern and to other items with it. */
function Found({ item }: { readonly item: ItemDetail }) {
  if (item.found.length === 0)
    return item.state === 'read' ? <p className="mt-2">Nothing was found.</p> : null;
  return (
    <table className="mt-2 w-full text-[12.5px]">
      <caption className="sr-only">What was found</caption>
      <thead>
        <tr className="border-b border-rule text-left text-ink-2">
          <th className="font-normal">Found</th>
          <th className="text-right font-normal">How many</th>
          <th className="text-right font-normal">Certain to</th>
          <th className="font-normal">
            <span className="sr-only">Where else</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {item.found.map(({ pattern, name, count, certainty }) => (
          <tr key={pattern} className="border-b border-dotted border-rule">
            <td className="py-0.5">
              <Link
                className="part"
                to={`/patterns/${encodeURIComponent(pattern)}`}
                title="Wrong? Mend the pattern"
              >
                {name}
              </Link>
            </td>
            <td className="text-right">{number(count)}</td>
            <td className="text-right">{certainty}</td>
            <td className="pl-3">
              <Link className="part" to={itemsPath(`pattern eq ${JSON.stringify(name)}`)}>
                elsewhere
              </Link>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Excerpts({ item }: { readonly item: ItemDetail }) {
  if (item.excerpts.length === 0) return null;
  return (
    <section aria-label="Evidence" className="mt-3">
      <h3 className="text-[12.5px] font-semibold text-ink-2">Evidence, masked by the reader</h3>
      {item.excerpts.map((excerpt) => (
        <figure key={`${excerpt.part} ${excerpt.line} ${excerpt.marks[0]?.start ?? 0}`} className="mt-1.5">
          <figcaption className="text-[12px] text-ink-2">
            {excerpt.part && `${excerpt.part}, `}line {excerpt.line}
          </figcaption>
          <pre
            className="max-h-40 overflow-auto bg-sheet p-2 font-mono text-[12px] break-words whitespace-pre-wrap"
            tabIndex={0}
            aria-label={`Excerpt, line ${excerpt.line}`}
          >
            {piecesOf(excerpt).map(({ text, mark, at }) =>
              mark ? (
                <mark key={at} className="found" title={`${mark.pattern}, certain to ${mark.certainty}`}>
                  {text}
                </mark>
              ) : (
                text
              ),
            )}
          </pre>
        </figure>
      ))}
    </section>
  );
}

type Excerpt = ItemDetail['excerpts'][number];

/** An excerpt in its pieces: marks never overlap, since they were cut where it lies. */
function piecesOf({ text, marks }: Excerpt) {
  const pieces: { text: string; mark: Excerpt['marks'][number] | null; at: number }[] = [];
  let at = 0;
  for (const mark of marks) {
    if (mark.start > at) pieces.push({ text: text.slice(at, mark.start), mark: null, at });
    pieces.push({ text: text.slice(mark.start, mark.end), mark, at: mark.start });
    at = mark.end;
  }
  if (at < text.length) pieces.push({ text: text.slice(at), mark: null, at });
  return pieces;
}
