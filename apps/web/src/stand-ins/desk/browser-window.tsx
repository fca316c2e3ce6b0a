import type { PlayerView, TargetView } from '@lantern/contracts';
import { useSearchParams } from 'react-router';
import {
  targetPath,
  type ThingToPut,
  usePutThing,
  useTargets,
  useThingActs,
  useThings,
} from '../../data/things';
import { useScreen } from './use-screen';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Playing } from '../playing';
import { ThingCard } from '../thing-card';
import { useNewestInView } from '../use-newest-in-view';
import { useOpenPage } from '../use-open-page';
import { WriteRow } from '../write-row';

/** The simulated browser of a person at work: pages that take text and files. */
export function BrowserWindow() {
  return (
    <Playing name="browser" path="browser">
      {(player) => <Browser player={player} />}
    </Playing>
  );
}

function Browser({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const sites = useTargets('browser', player.id);
  const open = sites.data?.find(({ id }) => id === search.get('site')) ?? sites.data?.[0];
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <nav aria-label="Pages" className="flex gap-1 border-b border-rule bg-[#e6f0ec] px-3 pt-2">
        {(sites.data ?? []).map(({ id, name }) => (
          <button
            key={id}
            type="button"
            aria-current={open?.id === id ? 'page' : undefined}
            onClick={() => setSearch({ site: id })}
            className={`rounded-t px-3 py-1.5 ${open?.id === id ? 'bg-white font-semibold' : ''}`}
          >
            {name}
          </button>
        ))}
      </nav>
      {sites.isError && <Notice look="stop">{errorSentence(sites.error)}</Notice>}
      {open && <Page key={open.id} site={open} player={player} />}
      {(sites.data ?? []).map((site) => (
        <OpenQuestions key={site.id} site={site} player={player} />
      ))}
    </div>
  );
}

/** A page behind another is open all the same: its questions stand as long as the browser does. */
function OpenQuestions({ site, player }: { readonly site: TargetView; readonly player: PlayerView }) {
  const things = useThings(targetPath('browser', player.id, site.id));
  return (things.data ?? [])
    .filter(({ notice }) => notice?.state === 'waiting' && notice.ask?.whileOpen)
    .map(({ id }) => <OpenQuestion key={id} id={id} player={player} />);
}

function OpenQuestion({ id, player }: { readonly id: string; readonly player: PlayerView }) {
  useOpenPage(id, useThingActs(player.id).page);
  return null;
}

function Page({ site, player }: { readonly site: TargetView; readonly player: PlayerView }) {
  const path = targetPath('browser', player.id, site.id);
  const things = useThings(path);
  const put = usePutThing(path);
  const end = useNewestInView(things.data?.length ?? 0);
  const screen = useScreen(site.id);
  const submit = async (thing: Omit<ThingToPut, 'pictures'>): Promise<boolean> => {
    try {
      await put.mutateAsync({ ...thing, pictures: await screen.pictures() });
      return true;
    } catch {
      return false;
    }
  };
  return (
    <div ref={screen.window} className="flex min-h-0 flex-1 flex-col bg-white">
      <header className="border-b border-rule px-5 py-2">
        <p className="rounded border border-rule-strong px-3 py-1 font-mono text-[12.5px]">
          {site.encrypted ? 'https' : 'http'}://{site.host}/
          <span className="ml-3 font-sans text-ink-2">
            {site.encrypted ? 'encrypted connection' : 'unencrypted connection'}
          </span>
        </p>
        <h1 className="mt-2 !text-[16px]">{site.name}</h1>
        <p className="text-ink-2">{site.about}</p>
      </header>
      <div className="min-h-0 flex-1 overflow-auto py-2" aria-live="polite">
        {things.isError && <Notice look="stop">{errorSentence(things.error)}</Notice>}
        {things.data?.length === 0 && (
          <p className="p-5 text-ink-2">You have not entered anything on this page yet.</p>
        )}
        {(things.data ?? []).map((thing) => (
          <ThingCard key={thing.id} thing={thing} player={player} about="paste" />
        ))}
        <div ref={end} />
      </div>
      <WriteRow
        label={`Type or paste into ${site.name}`}
        button="Submit"
        sending={put.isPending}
        error={put.error}
        onSend={({ text, files, pasted }) =>
          submit({ text, files, activity: files.length > 0 ? 'upload' : pasted ? 'paste' : 'type' })
        }
      />
    </div>
  );
}
