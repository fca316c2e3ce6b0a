import type { LedgerView, PlayerView } from '@lantern/contracts';
import { toast } from 'sonner';
import { useDeedActs, useLedgerActs } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { DeedTold } from './deeds';

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60';

interface Props {
  readonly player: PlayerView;
  readonly view: LedgerView;
}

/** Other applications that may take from the ledger in the person's name. */
export function Applications({ player, view }: Props) {
  const acts = useLedgerActs(player.id);
  const { end } = useDeedActs(player.id);
  const failed = acts.connect.error ?? acts.fetch.error ?? end.error;
  return (
    <section aria-label="Applications">
      <h2>Applications</h2>
      <p className="text-ink-2">A connected application reads data in your name.</p>
      {failed !== null && (
        <p role="alert" className="text-stop">
          {errorSentence(failed)}
        </p>
      )}
      <ul className="mt-2">
        {view.connectable.map(({ id, name, host, rights, connected }) => {
          const last = view.deeds.find(({ deed, facts }) => deed === 'connect' && facts.application === id);
          return (
            <li key={id} aria-label={name} className="list-none border-b border-rule py-2">
              <p className="flex flex-wrap items-center gap-3">
                <span className="min-w-0 flex-1">
                  <b>{name}</b> <span className="text-[12.5px] text-ink-2">{host}</span>
                  <span className="block text-[12.5px]">requests: {rights.join(', ')}</span>
                </span>
                {connected === null ? (
                  <button
                    type="button"
                    className={button}
                    disabled={acts.connect.isPending || last?.state === 'waiting'}
                    onClick={() => acts.connect.mutate({ application: id })}
                  >
                    Connect
                  </button>
                ) : (
                  <>
                    <button
                      type="button"
                      className={button}
                      disabled={acts.fetch.isPending}
                      onClick={() =>
                        acts.fetch.mutate(
                          { connection: connected },
                          {
                            onSuccess: ({ state, facts }) =>
                              toast(
                                state === 'went-on'
                                  ? `${name} received ${facts.rows ?? 0} records of ${facts.title}`
                                  : `${name} received nothing`,
                              ),
                          },
                        )
                      }
                    >
                      Fetch now
                    </button>
                    <button type="button" className={button} onClick={() => end.mutate({ id: connected })}>
                      Disconnect
                    </button>
                  </>
                )}
              </p>
              {connected === null && last && last.endedAt === null && (
                <DeedTold player={player} deed={last} />
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
