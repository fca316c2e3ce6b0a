import type { LedgerDeedView, PlayerView } from '@lantern/contracts';
import { ledgerFile, useDeedActs } from '../../data/ledger';
import { shortTime } from '../../wording/times';
import { sizeWords } from '../../wording/sizes';
import { Told } from '../told';
import { languageOf, type ToldAbout } from '../../wording/told';
import { STATE_WORDS, deedWords } from './words';

const ABOUT: Readonly<Record<LedgerDeedView['deed'], ToldAbout>> = {
  export: 'export',
  read: 'record',
  'sign-in': 'sign-in',
  connect: 'connection',
};

interface Props {
  readonly player: PlayerView;
  readonly deeds: readonly LedgerDeedView[];
}

/** Everything that was done, the newest first, with what came of it. */
export function Deeds({ player, deeds }: Props) {
  return (
    <section aria-label="Activity">
      <h2>Activity</h2>
      {deeds.length === 0 && <p className="mt-2 text-ink-2">No activity yet.</p>}
      <ul className="mt-2">
        {deeds.map((deed) => (
          <li key={deed.id} className="list-none border-b border-rule py-2">
            <Deed player={player} deed={deed} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** One of them, with what the person is told. */
export function Deed({ player, deed }: { readonly player: PlayerView; readonly deed: LedgerDeedView }) {
  const { facts, state } = deed;
  return (
    <article aria-label={deedWords(deed)}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b>{deedWords(deed)}</b>
        <span className={state === 'refused' ? 'text-stop' : 'text-ink-2'}>{STATE_WORDS[state]}</span>
        <span className="text-[12.5px] text-ink-2">{shortTime(deed.at, new Date())}</span>
        {deed.deed === 'export' && state === 'went-on' && facts.file && (
          <a className="underline" href={ledgerFile(player.id, deed.id)}>
            Save {facts.file.name} ({sizeWords(facts.file.bytes)})
          </a>
        )}
      </p>
      <DeedTold player={player} deed={deed} />
    </article>
  );
}

/** What the person is told about a deed; nothing where nobody says anything. */
export function DeedTold({ player, deed }: { readonly player: PlayerView; readonly deed: LedgerDeedView }) {
  const acts = useDeedActs(player.id);
  if (!deed.notice || deed.notice.state === 'went-on') return null;
  return (
    <Told
      id={deed.id}
      notice={deed.notice}
      about={ABOUT[deed.deed]}
      language={languageOf(player.language)}
      acts={acts}
      reported={deed.reported}
    />
  );
}
