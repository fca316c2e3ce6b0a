import { useLabelHistory } from '../../../data/labels';
import { exactTime, shortTime } from '../../../wording/times';

/** What changed about a label, an offer or a rule, by whom and why. */
export function LabelHistory({ id }: { readonly id: string }) {
  const history = useLabelHistory(id);
  if (!history.data || history.data.length === 0) return null;
  return (
    <section aria-label="History" className="mt-2">
      <h2 className="mb-1 !text-[15px] !text-ink">What changed, and why?</h2>
      <ol className="text-[13px]">
        {history.data.map((entry, index) => (
          <li key={index} className="border-b border-dotted border-rule py-1.5">
            <span title={exactTime(entry.at)} className="text-ink-2">
              {shortTime(entry.at, new Date())}, {entry.by}
            </span>
            {entry.note && <b> {entry.note}</b>}
            <ul className="pl-4 text-[12.5px]">
              {entry.fields.map(({ field, before, after }) => (
                <li key={field} className="line-clamp-2 break-all">
                  {field}: {before === null ? '' : <del className="text-ink-2">{before}</del>}{' '}
                  {after ?? 'gone'}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}
