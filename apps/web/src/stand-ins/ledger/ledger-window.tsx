import type { LedgerDeedView, PlayerView } from '@lantern/contracts';
import { useSearchParams } from 'react-router';
import { useLedger, useDeedActs } from '../../data/ledger';
import { Loading, Notice } from '../../ui/notice';
import { PROOF_WORDS } from '../../wording/applications';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { Playing } from '../playing';
import { Applications } from './applications';
import { Deeds } from './deeds';
import { Notes } from './notes';
import { Programs } from './programs';
import { Records } from './records';
import { Reports } from './reports';
import { SignIn } from './sign-in';

const AREAS = [
  ['reports', 'Reports'],
  ['customers', 'Customers'],
  ['bookings', 'Bookings'],
  ['claims', 'Claims'],
  ['freight', 'Freight'],
  ['notes', 'Notes'],
  ['applications', 'Applications'],
  ['programs', 'Programs'],
  ['deeds', 'Activity'],
] as const;

/** The simulated booking and freight ledger. */
export function LedgerWindow() {
  return (
    <Playing name="booking and freight ledger" path="ledger">
      {(player) => <LedgerOf player={player} />}
    </Playing>
  );
}

function LedgerOf({ player }: { readonly player: PlayerView }) {
  const ledger = useLedger(player.id);
  const acts = useDeedActs(player.id);
  const [search, setSearch] = useSearchParams();
  if (ledger.isPending) return <Loading what="the ledger" />;
  if (ledger.isError) return <Notice look="stop">{errorSentence(ledger.error)}</Notice>;
  const view = ledger.data;
  const { signIn } = view;
  if (!signIn) return <SignIn player={player} deeds={view.deeds} />;
  const area = AREAS.find(([id]) => id === search.get('at'))?.[0] ?? 'reports';
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <p className="flex items-center gap-4 border-b border-rule bg-[#fbf8ee] px-4 py-1.5 text-[12.5px]">
        <b>Merrow Strait Lines · Ledger</b>
        <span className="flex-1" />
        <SignedIn signIn={signIn} />
        <button
          type="button"
          className="min-h-6 underline"
          onClick={() => acts.end.mutate({ id: signIn.id })}
        >
          Sign out
        </button>
      </p>
      <div className="flex min-h-0 flex-1">
        <nav aria-label="Ledger" className="w-44 shrink-0 border-r border-rule bg-[#fbf8ee] py-2">
          {AREAS.map(([id, name]) => (
            <button
              key={id}
              type="button"
              aria-current={id === area ? 'page' : undefined}
              className={`block w-full border-l-4 px-3 py-1.5 text-left ${id === area ? 'border-[#8a6d1f] bg-white font-semibold' : 'border-transparent'}`}
              onClick={() => setSearch({ at: id })}
            >
              {name}
            </button>
          ))}
        </nav>
        <div className="min-w-0 flex-1 overflow-auto p-4">
          {area === 'reports' && <Reports player={player} view={view} />}
          {area === 'applications' && <Applications player={player} view={view} />}
          {area === 'notes' && <Notes player={player} />}
          {area === 'programs' && <Programs player={player} view={view} />}
          {area === 'deeds' && <Deeds player={player} deeds={view.deeds} />}
          {(area === 'customers' || area === 'bookings' || area === 'claims' || area === 'freight') && (
            <Records key={area} player={player} object={area} />
          )}
        </div>
      </div>
    </div>
  );
}

function SignedIn({ signIn }: { readonly signIn: LedgerDeedView }) {
  const { country = '', proof = 'not-known', machine = '' } = signIn.facts.signIn ?? {};
  return (
    <span>
      Signed in {shortTime(signIn.at, new Date())} with {PROOF_WORDS[proof]}, from {country}, at {machine}
    </span>
  );
}
