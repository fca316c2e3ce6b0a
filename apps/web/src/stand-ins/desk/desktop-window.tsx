import type { Activity, PlayerView, TargetView } from '@lantern/contracts';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { targetPath, usePutThing, useTargets, useThings } from '../../data/things';
import { useScreen } from './use-screen';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Playing } from '../playing';
import { ThingCard } from '../thing-card';
import { useNewestInView } from '../use-newest-in-view';
import { WriteRow } from '../write-row';

/** The simulated desktop of a person at work: programs, drives, printers, and a clipboard between them. */
export function DesktopWindow() {
  return (
    <Playing name="desktop" path="desktop">
      {(player) => <Desktop player={player} />}
    </Playing>
  );
}

/** What was taken, and out of which program. */
interface Clip {
  readonly text: string;
  readonly from: string;
}

function Desktop({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const targets = useTargets('endpoint', player.id);
  const [clip, setClip] = useState<Clip | null>(null);
  const all = targets.data ?? [];
  const open = all.find(({ id }) => id === search.get('open')) ?? all[0];
  const group = (kind: TargetView['kind'], title: string) => (
    <>
      <p className="mt-3 mb-1 px-2.5 text-[12.5px] text-ink-2">{title}</p>
      {all
        .filter((target) => target.kind === kind)
        .map(({ id, name, trusted }) => (
          <button
            key={id}
            type="button"
            aria-current={open?.id === id ? 'page' : undefined}
            onClick={() => setSearch({ open: id })}
            className={`block w-full rounded px-2.5 py-1.5 text-left ${open?.id === id ? 'bg-[#d8e8e2]' : ''}`}
          >
            {name}
            {!trusted && <span className="text-[12.5px]"> · not managed</span>}
          </button>
        ))}
    </>
  );
  return (
    <>
      <nav
        aria-label="Programs and devices"
        className="w-60 shrink-0 overflow-auto border-r border-rule bg-[#f2f7f5] p-3"
      >
        {targets.isError && <Notice look="stop">{errorSentence(targets.error)}</Notice>}
        {group('program', 'Programs')}
        {group('device', 'Drives, printers and the screen')}
        <p className="mt-4 mb-1 px-2.5 text-[12.5px] text-ink-2">Clipboard</p>
        <p className="px-2.5 break-words whitespace-pre-wrap">
          {clip ? `${clip.text.slice(0, 120)}${clip.text.length > 120 ? ' …' : ''}` : 'empty'}
        </p>
        {clip && <p className="px-2.5 text-[12.5px] text-ink-2">from {clip.from}</p>}
      </nav>
      {open && <Target key={open.id} target={open} player={player} clip={clip} onTake={setClip} />}
    </>
  );
}

interface TargetProps {
  readonly target: TargetView;
  readonly player: PlayerView;
  readonly clip: Clip | null;
  readonly onTake: (clip: Clip) => void;
}

/** Printers and pictures of the screen give nothing back. */
function holdsThings({ device }: TargetView): boolean {
  return device === null || device === 'plugged-in' || device === 'other-machine' || device === 'session-end';
}

/** What people do at a program or a device. */
function actOf({ kind, device }: TargetView): { readonly activity: Activity; readonly words: string } {
  if (kind === 'program') return { activity: 'paste', words: 'Paste' };
  if (device === 'session-end') return { activity: 'copy', words: 'Copy out of the session' };
  if (device === 'disc') return { activity: 'copy', words: 'Burn to disc' };
  if (device === 'printer') return { activity: 'print', words: 'Print' };
  if (device === 'screen-picture') return { activity: 'capture', words: 'Take screenshot' };
  return { activity: 'copy', words: 'Copy to drive' };
}

/** What is written by hand into a program is typed; what was taken elsewhere, or comes as a file, is put there. */
function activityOf(target: TargetView, files: readonly File[], takenFrom: string): Activity {
  return target.kind === 'program' && files.length === 0 && takenFrom === ''
    ? 'type'
    : actOf(target).activity;
}

function Target({ target, player, clip, onTake }: TargetProps) {
  const path = targetPath('endpoint', player.id, target.id);
  const things = useThings(path);
  const put = usePutThing(path);
  // What a program holds stands first, and is what it was opened for.
  const end = useNewestInView(target.records.length > 0 ? 0 : (things.data?.length ?? 0));
  const { words } = actOf(target);
  const screen = useScreen(target.id);
  const send = async (text: string, files: readonly File[], takenFrom: string): Promise<boolean> => {
    const activity = activityOf(target, files, takenFrom);
    try {
      // The agent sees nothing of a program that cannot be watched.
      const pictures = target.unwatched === '' ? await screen.pictures() : [];
      await put.mutateAsync({ text, files, activity, takenFrom, pictures });
      return true;
    } catch {
      return false;
    }
  };
  return (
    <div ref={screen.window} className="flex min-w-0 flex-1 flex-col bg-white">
      <header className="border-b border-rule px-5 py-2">
        <h1 className="!text-[16px]">{target.name}</h1>
        <p className="text-ink-2">{target.about}</p>
        {target.unwatched !== '' && (
          <p className="mt-1 border-l-4 border-rule-strong pl-2">{target.unwatched}</p>
        )}
        {clip && (
          <button
            type="button"
            disabled={put.isPending}
            className="mt-2 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
            onClick={() => void send(clip.text, [], clip.from)}
          >
            {words}
          </button>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-auto py-2" aria-live="polite">
        {target.records.map((record) => (
          <Taken
            key={record.name}
            title={record.name}
            text={record.text}
            onTake={() => {
              onTake({ text: record.text, from: target.name });
              toast(`Copied from ${target.name}`);
            }}
          />
        ))}
        {things.isError && <Notice look="stop">{errorSentence(things.error)}</Notice>}
        {things.data?.length === 0 && target.records.length === 0 && (
          <p className="p-5 text-ink-2">Nothing here yet. Copy something from a program, or write below.</p>
        )}
        {(things.data ?? []).map((thing) => (
          <div key={thing.id}>
            <ThingCard thing={thing} player={player} about={target.kind === 'program' ? 'paste' : 'copy'} />
            {thing.state === 'shown' && holdsThings(target) && (
              <button
                type="button"
                className="ml-5 min-h-6 text-[12.5px] text-press underline"
                onClick={() => onTake({ text: thing.text, from: target.name })}
              >
                Copy
              </button>
            )}
          </div>
        ))}
        <div ref={end} />
      </div>
      <WriteRow
        label={
          target.kind === 'program' ? `Type into ${target.name}` : `Put a text or a file onto ${target.name}`
        }
        button={target.kind === 'program' ? 'Submit' : 'Do it'}
        sending={put.isPending}
        error={put.error}
        onSend={({ text, files }) => send(text, files, '')}
      />
    </div>
  );
}

interface TakenProps {
  readonly title: string;
  readonly text: string;
  readonly onTake: () => void;
}

function Taken({ title, text, onTake }: TakenProps) {
  return (
    <article aria-label={title} className="mx-5 my-2 max-w-2xl border border-rule px-3 py-2">
      <p className="flex items-baseline justify-between">
        <b>{title}</b>
        <button type="button" className="min-h-6 text-press underline" onClick={onTake}>
          Copy
        </button>
      </p>
      <p className="whitespace-pre-wrap">{text}</p>
    </article>
  );
}
