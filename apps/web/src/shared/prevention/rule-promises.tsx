import { Link } from 'react-router';
import { usePreventions } from '../../data/insight';
import { usePatternNames } from '../../data/patterns';
import { changeSentence, promiseWords } from '../../wording/prevention';
import { exactTime, shortTime } from '../../wording/times';

/** Changes that were made about a rule because of false positives, and whether each kept its promise. */
export function RulePromises({ rule }: { readonly rule: string }) {
  const made = usePreventions(rule);
  const names = usePatternNames();
  const nameOf = (id: string): string => names.get(id) ?? id;
  if (!made.data || made.data.length === 0) return null;
  return (
    <section aria-label="Changes made from false positives" className="mt-2 text-[12.5px]">
      <h3 className="font-semibold text-ink-2">Changes made from false positives</h3>
      <ul>
        {made.data.map((view) => (
          <li key={view.id} className="mt-1">
            <b>{changeSentence(view.change, nameOf)}.</b>{' '}
            <span className={view.state === 'not-kept' ? 'text-stop' : ''}>{promiseWords(view)}</span>{' '}
            <span className="text-ink-2" title={exactTime(view.at)}>
              {view.by}, {shortTime(view.at, new Date())}
              {view.incident !== null && (
                <>
                  , from{' '}
                  <Link className="part" to={`/incidents/${view.incident}?filter=`}>
                    incident {view.incident}
                  </Link>
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
