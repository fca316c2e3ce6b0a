import { DISCOVERY_ORIGIN, type EvidencePart, type IncidentDetail } from '@lantern/contracts';
import type { Spot } from '@lantern/core/movement';
import type { SpotTerm } from '@lantern/core/policy';
import { Link } from 'react-router';
import { KeptCopies } from './kept-copies';
import { Beam } from '../../../shared/beam/beam';
import { EvidencePartView } from '../../../shared/evidence/evidence-part';
import { EvidenceSum } from '../../../shared/trace/evidence-sum';
import { useAllFindings, useUnmask } from '../../../data/incidents';
import { usePatternNames } from '../../../data/patterns';
import { useMay } from '../../../data/session';
import { ReasonPopover } from '../../../shared/reason-popover';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { errorSentence, isForSecond } from '../../../wording/errors';
import { incidentTitle, shortName } from '../../../wording/incidents';
import { spotWords } from '../../../wording/sentence';
import {
  CHANNEL_WORDS,
  CONNECTION_WORDS,
  LINK_WORDS,
  MACHINE_WORDS,
  NETWORK_WORDS,
} from '../../../wording/terms';
import { usedWords } from '../../../wording/applications';
import { exactTime } from '../../../wording/times';
import { KeepEvidence } from './keep-evidence';
import { Remarks } from './remarks';
import { VerdictTrace } from './verdict-trace';

/** Source, target, connection and machine of the movement, as far as the channel knows them. */
function WayLine({ way }: { readonly way: NonNullable<IncidentDetail['way']> }) {
  const names = new Map<string, string>();
  const spots = (all: typeof way.from): string =>
    all.map((spot) => spotWords(toTerm(spot), names)).join(', ');
  const parts = [
    ...(way.from.length > 0 ? [`taken from ${spots(way.from)}`] : []),
    ...(way.into.length > 0 ? [`put into ${spots(way.into)}`] : []),
    ...(way.link ? [`a link for ${LINK_WORDS[way.link]}`] : []),
    ...(way.connection && way.connection !== 'not-known'
      ? [`connection: ${CONNECTION_WORDS[way.connection]}`]
      : []),
    ...(way.window ? [`in the window “${way.window}”`] : []),
    ...(way.machine ? [`sent from ${way.machine.name} (${MACHINE_WORDS[way.machine.state]})`] : []),
    ...(way.network && way.network !== 'not-known' ? [`network: ${NETWORK_WORDS[way.network]}`] : []),
  ];
  return (
    <div className="mb-3 text-[12.5px] text-ink-2">
      {way.use && <p>{usedWords(way.use)}</p>}
      {parts.length > 0 && <p>It was {parts.join('; ')}.</p>}
    </div>
  );
}

function toTerm(spot: Spot): SpotTerm {
  return spot.kind === 'host' ? { ...spot, under: false } : spot;
}

/** Items at the path that the incident is about. */
const foundAt = (path: string): string =>
  `/discovery/items?${new URLSearchParams({ filter: `path eq ${JSON.stringify(path)}` })}`;

/** What was found, in context and masked, why it is certain, and how the verdict came about. */
export function Evidence({ incident }: { readonly incident: IncidentDetail }) {
  const names = usePatternNames();
  const unmask = useUnmask(incident.number);
  const all = useAllFindings(incident.number);
  const shown = unmask.data ?? incident;
  const headline = incidentTitle(incident, names);
  // Names too may be hidden until somebody says why.
  const outside = shown.recipientAddresses.filter((recipient) => recipient.outside);
  return (
    <div className="px-5 py-3.5">
      <h1>{headline}</h1>
      {shown.title && shown.title !== headline && <p className="truncate text-ink-2">{shown.title}</p>}
      <div className="mt-1 mb-1">
        <Beam
          from={[shown.person.name, shown.person.department].filter(Boolean).join(', ')}
          by={CHANNEL_WORDS[incident.channel]}
          to={incident.destinations.join(', ')}
          answer={incident.answer}
          lit={incident.counts.length > 0}
          worded
        />
      </div>
      <p className="mb-3 text-[12.5px] text-ink-2">
        <span title={exactTime(incident.at)}>
          Incident {incident.number},{' '}
          {new Date(incident.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'medium' })}
        </span>
        , revision {incident.revision}. {incident.recipientAddresses.length}{' '}
        {incident.recipientAddresses.length === 1 ? 'recipient' : 'recipients'}, {outside.length} outside
        {outside.length > 0 &&
          `: ${outside
            .slice(0, 4)
            .map((recipient) => recipient.address)
            .join(', ')}${outside.length > 4 ? ' and others' : ''}`}
      </p>
      {incident.way && <WayLine way={incident.way} />}
      <Remarks incident={incident} />
      {incident.verdict.unfinished && (
        <Notice look="plain">
          Inspection did not finish. The channel’s setting decided, because no rule gave a stronger answer.
        </Notice>
      )}
      {incident.origin === DISCOVERY_ORIGIN && (
        <Notice look="plain">
          Discovery found this in a stored item. Nothing moved, and no rule was applied. The history says what
          was found and who created the incident.{' '}
          <Link className="part" to={foundAt(incident.title ?? '')}>
            Open the item
          </Link>
        </Notice>
      )}
      {incident.origin !== null && incident.origin !== DISCOVERY_ORIGIN && (
        <Notice look="plain">
          {incident.origin} reported this. Our rules were not asked about it. All that it says is in the
          original.
        </Notice>
      )}
      {incident.reported && (
        <Notice look="plain">{shown.person.name} reported this as a false finding. See the history.</Notice>
      )}
      <div className="mb-1.5 flex items-center justify-between gap-3">
        <p className="text-[12.5px]">
          {incident.counts
            .map(
              (count) =>
                `${count.findings} ${shortName(names.get(count.pattern) ?? count.pattern)}, ${count.distinct} distinct`,
            )
            .join('; ') || 'No findings to show'}
        </p>
        <span className="ml-auto flex gap-3">
          <a className="part text-[12.5px]" download href={`/api/incidents/${incident.number}/folder`}>
            {incident.case === null ? 'Export' : 'Export case'}
          </a>
          <KeepEvidence incident={incident} />
        </span>
        {shown.masked ? (
          <ShowValues onShow={(reason) => unmask.mutate(reason)} />
        ) : (
          <Button look="quiet" onClick={() => unmask.reset()}>
            Mask values
          </Button>
        )}
      </div>
      {unmask.isError && (
        <Notice look={isForSecond(unmask.error) ? 'go' : 'stop'}>{errorSentence(unmask.error)}</Notice>
      )}
      {((shown.masked ? all.data : undefined) ?? shown.parts).map((part) => (
        <EvidencePartView key={part.path.join('/')} part={part} />
      ))}
      {!(shown.masked && all.data) && shown.parts.some(({ notShown }) => notShown > 0) && (
        <AllFindings
          kept={shown.original?.kept === true}
          isPending={all.isPending}
          error={all.error}
          onShow={() => all.mutate()}
        />
      )}
      {shown.parts.length === 0 && (
        <p className="text-ink-2">
          {incident.evidenceDeleted
            ? 'The retention period for evidence is over, and the evidence of this incident was deleted.'
            : incident.origin === DISCOVERY_ORIGIN
              ? 'What was found in it stands, masked, with the item.'
              : 'No text of this movement was kept as evidence.'}
        </p>
      )}
      <KeptCopies incident={shown} />
      <WhyCertain parts={shown.parts} />
      <VerdictTrace incident={incident} />
      {incident.notice && (
        <section aria-label="What the person was told" className="mt-4">
          <h2 className="mb-1">What {incident.person.name} saw</h2>
          <p className="max-w-xl">"{incident.notice}"</p>
        </section>
      )}
    </div>
  );
}

interface AllProps {
  readonly kept: boolean;
  readonly isPending: boolean;
  readonly error: unknown;
  readonly onShow: () => void;
}

/** Only the first findings of a part are kept as evidence; the rest is read again out of the original. */
function AllFindings({ kept, isPending, error, onShow }: AllProps) {
  if (!kept)
    return (
      <p className="text-[12.5px] text-ink-2">
        The original is not kept, so the findings beyond these cannot be shown.
      </p>
    );
  return (
    <p>
      <Button look="quiet" refusal={isPending ? 'Reading the original …' : undefined} onClick={onShow}>
        Show all findings, masked
      </Button>
      {error !== null && <Notice look="stop">{errorSentence(error)}</Notice>}
    </p>
  );
}

function ShowValues({ onShow }: { readonly onShow: (reason: string) => void }) {
  const may = useMay('incidents.unmask');
  if (!may)
    return (
      <span className="text-[12.5px] text-ink-2">Values are masked. Your account may not show them.</span>
    );
  return (
    <ReasonPopover
      trigger="Values masked, show"
      name="Show values"
      question="Why do you need to see the values?"
      hint="The history keeps your reason and your name."
      button="Show values"
      onGiven={onShow}
    />
  );
}

/** The evidence of the most certain finding: the others open where they stand. */
function WhyCertain({ parts }: { readonly parts: readonly EvidencePart[] }) {
  const names = usePatternNames();
  const found = parts.flatMap((part) =>
    part.excerpts.flatMap((excerpt) =>
      excerpt.pieces.flatMap((piece) => ('pattern' in piece ? [piece] : [])),
    ),
  );
  const [best] = [...found].sort((left, right) => right.certainty - left.certainty);
  if (!best) return null;
  return (
    <section aria-label="Reasons for this certainty" className="mt-3 max-w-xl">
      <h2 className="mb-1.5">
        Why this is {shortName(names.get(best.pattern) ?? best.pattern)}, certain to {best.certainty}
      </h2>
      <EvidenceSum evidence={best.evidence} />
    </section>
  );
}
