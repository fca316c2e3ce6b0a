import { Link } from 'react-router';
import { toast } from 'sonner';
import { useCase, useLeaveCase } from '../../../data/desk';
import { useMay } from '../../../data/session';
import { Beam } from '../../../shared/beam/beam';
import { useDesk } from '../../../stores/desk-store';
import { Button } from '../../../ui/button';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { CHANNEL_WORDS, OUTCOME_WORDS, STATUS_WORDS } from '../../../wording/terms';
import { exactTime, shortTime } from '../../../wording/times';

/** Attempts of one person with the same content, in their order, with what changed between them. */
export function Case({ number }: { readonly number: number }) {
  const found = useCase(number, true);
  const leave = useLeaveCase();
  const pick = useDesk((store) => store.pick);
  const may = useMay('incidents.decide');
  if (found.isError) return <Notice look="stop">{errorSentence(found.error)}</Notice>;
  if (!found.data) return <Loading what="the case" />;
  const { attempts } = found.data;
  return (
    <section aria-label="Case" className="px-5 py-3.5">
      <div className="mb-2 flex items-baseline justify-between gap-3">
        <p>
          <b>{attempts.length} attempts</b> by {attempts[0]?.row.person.name} with the same content.
        </p>
        <Button look="main" onClick={() => pick(attempts.map(({ row }) => row.number))}>
          Pick the case
        </Button>
      </div>
      <ol>
        {attempts.map(({ row, values, sharedBefore, channelChanged, destinationChanged }, at) => (
          <li
            key={row.number}
            className={`border-l-[3px] py-2 pl-3 ${row.number === number ? 'border-ink bg-paper' : 'border-rule'}`}
          >
            <p className="flex items-baseline gap-2">
              <Link className="part" to={`/incidents/${row.number}`}>
                Incident {row.number}
              </Link>
              <span className="text-[12.5px] text-ink-2" title={exactTime(row.at)}>
                {shortTime(row.at, new Date())}
              </span>
              <span className="ml-auto text-[12.5px]">
                {row.outcome ? OUTCOME_WORDS[row.outcome] : STATUS_WORDS[row.status]}
              </span>
            </p>
            <Beam
              from={row.person.name}
              by={CHANNEL_WORDS[row.channel]}
              to={row.destinations[0] ?? ''}
              answer={row.answer}
              lit
              worded
            />
            <p className="flex items-center gap-2 text-[12.5px] text-ink-2">
              {values} distinct {values === 1 ? 'value' : 'values'}
              {sharedBefore !== null && `, ${sharedBefore} of them as before`}
              {channelChanged && ', by another channel'}
              {destinationChanged && ', to another destination'}
              {at === 0 && ', the first attempt'}
              {may && attempts.length > 1 && (
                <button
                  type="button"
                  className="part ml-auto"
                  onClick={() =>
                    leave.mutate(row.number, {
                      onSuccess: () => toast(`Incident ${row.number} was taken out of the case`),
                      onError: (error) => toast.error(errorSentence(error)),
                    })
                  }
                >
                  Take out of the case
                </button>
              )}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}
