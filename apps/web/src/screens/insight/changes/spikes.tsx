import type { BucketView, ChangesView } from '@lantern/contracts/insight';
import { deskPath } from '@lantern/core/incidents';
import type { PlacedSpike } from '@lantern/core/insight';
import { Link } from 'react-router';
import { type PeriodAsked, useWhy } from '../../../data/insight';
import { FIELD_WORDS, valueWords } from '../../../wording/desk';
import { bucketWords, partOfWords, spikeWords } from '../../../wording/insight';
import { shortTime } from '../../../wording/times';
import type { InsightState } from '../insight-state';

interface Props {
  readonly view: ChangesView;
  readonly state: InsightState;
  readonly asked: PeriodAsked;
}

/** What is usual for a bar. */
const COMPARED_WITH = {
  hour: 'the same hour of the 8 weeks before',
  day: 'the same weekday of the 8 weeks before',
  week: 'the 8 weeks before',
} as const;
/** Stretches that are explained at once; the others are named. */
const EXPLAINED = 4;

/** Stretches that the weeks before do not explain, each with what makes up the difference. */
export function Spikes({ view, state, asked }: Props) {
  const loudest = [...view.spikes].sort((one, other) => Math.abs(other.score) - Math.abs(one.score));
  if (view.grain === 'month')
    return (
      <p className="mt-1 text-ink-2">
        Months are too long to compare with each other. Choose a shorter period.
      </p>
    );
  if (loudest.length === 0)
    return (
      <p className="mt-1 text-ink-2">
        Nothing. Each {view.grain} is compared with {COMPARED_WITH[view.grain]}; at least 4 weeks must be
        known.
      </p>
    );
  return (
    <ul className="mt-1 flex flex-col gap-2.5">
      {loudest.slice(0, EXPLAINED).map((spike) => {
        const bucket = view.buckets[spike.bucket];
        return bucket ? (
          <li key={spike.bucket}>
            <Explained spike={spike} bucket={bucket} view={view} state={state} asked={asked} />
          </li>
        ) : null;
      })}
      {loudest.length > EXPLAINED && (
        <li className="text-[12.5px] text-ink-2">
          Also:{' '}
          {loudest
            .slice(EXPLAINED)
            .map(({ bucket }) => nameOf(view.buckets[bucket], view))
            .join(', ')}
          . Drag over the chart to look at them alone.
        </li>
      )}
    </ul>
  );
}

const nameOf = (bucket: BucketView | undefined, { grain }: ChangesView): string =>
  bucket ? bucketWords(bucket.from, bucket.to, grain) : '';

function Explained({
  spike,
  bucket,
  view,
  state,
  asked,
}: Props & { readonly spike: PlacedSpike; readonly bucket: BucketView }) {
  const why = useWhy({ ...asked, from: bucket.from, to: bucket.to }, state.listed);
  return (
    <>
      <p className="font-semibold">
        {spikeWords(spike, nameOf(bucket, view))}{' '}
        {why.data && (
          <Link className="part font-normal" to={deskPath(why.data.filter, state.listed)}>
            Open
          </Link>
        )}
      </p>
      {why.data && (
        <ul className="text-[12.5px]">
          {why.data.parts.map((part) => (
            <li key={part.field}>
              <span className="text-ink-2">{FIELD_WORDS[part.field]}</span>{' '}
              <Link className="part" to={deskPath(part.filter, state.listed)}>
                {valueWords(part.field, part.value.value, part.value.label)}
              </Link>{' '}
              <span className="text-ink-2">{partOfWords(part)}</span>
            </li>
          ))}
          {why.data.parts.length === 0 && (
            <li className="text-ink-2">No single rule, person, file or destination makes up much of it.</li>
          )}
          {why.data.published.map(({ revision, at, by, name }) => (
            <li key={revision} className="text-ink-2">
              Revision {revision} ({name}) was published by {by}, {shortTime(at, new Date())}.
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
