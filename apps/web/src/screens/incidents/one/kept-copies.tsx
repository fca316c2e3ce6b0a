import type { IncidentDetail } from '@lantern/contracts';
import { useOriginal, usePictures } from '../../../data/incidents';
import { saveFile } from '../../../data/save-file';
import { useMay } from '../../../data/session';
import { ReasonPopover } from '../../../shared/reason-popover';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { errorSentence, isForSecond } from '../../../wording/errors';
import { clockTime } from '../../../wording/times';
import { sizeWords } from '../../../wording/sizes';

interface Props {
  readonly incident: IncidentDetail;
}

/** The content as it was and what the screen showed, each behind a reason. */
export function KeptCopies({ incident }: Props) {
  const { original, pictures } = incident;
  const may = useMay('incidents.unmask');
  if (!original && pictures.length === 0) return null;
  return (
    <section aria-labelledby="kept" className="mt-4">
      <h2 id="kept" className="mb-1">
        The original
      </h2>
      {original && <Original incident={incident} original={original} may={may} />}
      {pictures.length > 0 && <Pictures incident={incident} may={may} />}
    </section>
  );
}

function Original({
  incident: { number },
  original: { bytes, items, kept },
  may,
}: Props & { readonly original: NonNullable<IncidentDetail['original']>; readonly may: boolean }) {
  const download = useOriginal(number);
  const size = `${items} ${items === 1 ? 'item' : 'items'}, ${sizeWords(bytes)}`;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 text-[13px]">
      <span>Original content: {size}.</span>
      {!kept && <span className="text-ink-2">It was too large to be kept.</span>}
      {kept && !may && <span className="text-ink-2">Your account may not download it.</span>}
      {kept && may && (
        <ReasonPopover
          trigger="Download"
          name="Download the original"
          question="Why do you need the original?"
          hint="The history keeps your reason and your name."
          button="Download"
          onGiven={(reason) =>
            download.mutate(reason, {
              onSuccess: (archive) => saveFile(archive, `incident-${number}-original.zip`),
            })
          }
        />
      )}
      {download.isError && (
        <Notice look={isForSecond(download.error) ? 'go' : 'stop'}>{errorSentence(download.error)}</Notice>
      )}
    </div>
  );
}

function Pictures({ incident, may }: Props & { readonly may: boolean }) {
  const show = usePictures(incident.number);
  const shown = show.data?.pictures;
  const count = incident.pictures.length;
  return (
    <div className="mt-1 text-[13px]">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span>
          {count === 1 ? 'A picture' : `${count} pictures`} of the screen,{' '}
          {incident.pictures.map(clockTime).join(', ')}.
        </span>
        {!may && <span className="text-ink-2">Your account may not see them.</span>}
        {may && !shown && (
          <ReasonPopover
            trigger="Show"
            name="Show pictures of the screen"
            question="Why do you need to see the screen?"
            hint="The history keeps your reason and your name."
            button="Show pictures"
            onGiven={(reason) => show.mutate(reason)}
          />
        )}
        {shown && (
          <Button look="quiet" onClick={() => show.reset()}>
            Hide pictures
          </Button>
        )}
      </p>
      {show.isError && (
        <Notice look={isForSecond(show.error) ? 'go' : 'stop'}>{errorSentence(show.error)}</Notice>
      )}
      {shown?.map(({ at, type, base64 }, index) => (
        <figure key={index} className="my-2">
          <img
            className="max-h-[30rem] max-w-full border border-rule"
            src={`data:${type};base64,${base64}`}
            alt={`The screen at ${clockTime(at)}`}
          />
          <figcaption className="text-[12.5px] text-ink-2">{clockTime(at)}</figcaption>
        </figure>
      ))}
    </div>
  );
}
