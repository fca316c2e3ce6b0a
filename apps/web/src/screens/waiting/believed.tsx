import type { TrustView } from '@lantern/contracts';
import { Link } from 'react-router';
import { useLimited, useMay } from '../../data/session';
import { useEndTrust, useTrusts } from '../../data/trusts';
import { Button } from '../../ui/button';
import { trustPlaceWords } from '../../wording/applications';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';

/** People who confirmed their identity with a second factor and are not asked again until a stated time. */
/** Not for roles that cover some incidents only: it names everybody. */
export function Believed({ all }: { readonly all: boolean }) {
  return useLimited() ? null : <All all={all} />;
}

function All({ all }: { readonly all: boolean }) {
  const trusts = useTrusts();
  const end = useEndTrust();
  const may = useMay('overrides.decide');
  const rows = (trusts.data ?? []).filter(({ holds }) => all || holds);
  if (rows.length === 0) return null;
  return (
    <section aria-labelledby="believed" className="mt-6 max-w-5xl">
      <h2 id="believed">Confirmed with a second factor</h2>
      <p className="text-[12.5px] text-ink-2">
        Rules do not ask these people for their second factor again until the time shown.
        {!may && ' Your account cannot end this early.'}
      </p>
      {end.error !== null && (
        <p role="alert" className="text-stop">
          {errorSentence(end.error)}
        </p>
      )}
      <ul>
        {rows.map((trust) => (
          <li key={trust.id} className="flex list-none items-baseline gap-3 border-b border-rule py-2">
            <b>{trust.person.name}</b> {trustPlaceWords(trust.place)}
            <span className="text-[12.5px] text-ink-2">{stateWords(trust)}</span>
            <span className="flex-1" />
            <Link className="part" to={`/incidents/${trust.incident}`}>
              incident {trust.incident}
            </Link>
            {trust.holds && may && (
              <Button look="quiet" disabled={end.isPending} onClick={() => end.mutate(trust.id)}>
                End now
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function stateWords({ holds, until, ended }: TrustView): string {
  const now = new Date();
  if (holds) return `until ${shortTime(until, now)}`;
  return ended ? `ended by ${ended.by} ${shortTime(ended.at, now)}` : `ended ${shortTime(until, now)}`;
}
