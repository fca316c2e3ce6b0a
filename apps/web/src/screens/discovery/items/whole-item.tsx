import { FETCHED_KEPT_HOURS, type FetchView, type ItemDetail } from '@lantern/contracts/discovery';
import { useFetchedOriginal, useFetchItem, useOpenFetched } from '../../../data/discovery-follow-up';
import { saveFile } from '../../../data/save-file';
import { useMay } from '../../../data/session';
import { EvidencePartView } from '../../../shared/evidence/evidence-part';
import { KeepAsSpecimen } from '../../../shared/evidence/keep-as-specimen';
import { ReasonPopover } from '../../../shared/reason-popover';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { reasonWords, size } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, exactTime, shortTime } from '../../../wording/times';

/** The item itself: it stays where it lies until somebody says why it must be seen. */
export function WholeItem({ item }: { readonly item: ItemDetail }) {
  const may = useMay('incidents.unmask');
  const fetch = useFetchItem(item.id);
  if (item.state === 'gone' || item.state === 'waiting' || item.state === 'left-out') return null;
  const waits = item.fetches.some(({ state, isOwn }) => isOwn && state === 'waiting');
  return (
    <section aria-label="Full item" className="mt-3">
      <h3 className="text-[12.5px] font-semibold text-ink-2">Full item</h3>
      {item.fetches.slice(0, 5).map((each) => (
        <Fetched key={each.id} item={item} fetch={each} />
      ))}
      {!may && <p className="text-[12.5px] text-ink-2">Your account may not open full items.</p>}
      {may && item.quarantined && (
        <p className="text-[12.5px] text-ink-2">It is in quarantine. Put it back first, then fetch it.</p>
      )}
      {may && !item.quarantined && !waits && (
        <ReasonPopover
          trigger="Fetch full item"
          name="Fetch full item"
          question="Why do you need the full item?"
          hint={`A reader fetches it. Only you can open it, for ${FETCHED_KEPT_HOURS} hours. The history keeps your reason and your name.`}
          button="Fetch item"
          most={300}
          error={fetch.error}
          onGiven={(reason) => fetch.mutate(reason)}
        />
      )}
    </section>
  );
}

function Fetched({ item, fetch }: { readonly item: ItemDetail; readonly fetch: FetchView }) {
  const open = useOpenFetched();
  const original = useFetchedOriginal();
  const shown = open.data;
  const failure = open.error ?? original.error;
  const name = item.path.slice(item.path.lastIndexOf('/') + 1);
  return (
    <div className="mb-1 text-[12.5px]">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span title={exactTime(fetch.at)}>
          {fetch.by}, {ago(fetch.at, new Date())}: “{fetch.reason}”. {stateWords(fetch)}
        </span>
        {fetch.state === 'here' && fetch.isOwn && (
          <>
            {shown ? (
              <Button look="quiet" onClick={() => open.reset()}>
                Hide values
              </Button>
            ) : (
              <Button look="quiet" onClick={() => open.mutate(fetch.id)}>
                {open.isPending ? 'Reading it …' : 'Show values'}
              </Button>
            )}
            <Button
              look="quiet"
              onClick={() => original.mutate(fetch.id, { onSuccess: (file) => saveFile(file, name) })}
            >
              Download
            </Button>
            {shown && (
              <KeepAsSpecimen
                name={name.slice(0, 100)}
                parts={shown.parts}
                note="The request for the item stays in its history."
                whole={() => Promise.resolve(shown.parts)}
              />
            )}
          </>
        )}
      </p>
      {failure && <Notice look="stop">{errorSentence(failure)}</Notice>}
      {shown && (
        <div className="mt-1">
          {shown.changedSince && <Notice>The item changed after it was last read.</Notice>}
          {shown.parts.length === 0 && <p>No findings now.</p>}
          {shown.parts.map((part) => (
            <EvidencePartView key={part.path.join('/')} part={part} />
          ))}
        </div>
      )}
    </div>
  );
}

function stateWords({ state, problem, bytes, endsAt, isOwn }: FetchView): string {
  switch (state) {
    case 'waiting':
      return 'Waiting for a reader to fetch it.';
    case 'failed':
      return `It could not be fetched: ${reasonWords(problem)}.`;
    case 'deleted':
      return 'It was deleted here.';
    case 'here':
      return `${size(bytes ?? 0)}, kept until ${shortTime(endsAt ?? '', new Date())}${isOwn ? '' : '. Only they can open it'}.`;
  }
}
