import type { DiscoveryPlaceView } from '@lantern/contracts/discovery';
import { behindPart } from '@lantern/core/discovery';
import { printFilter } from '@lantern/core/incidents';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  useCheckPlace,
  useLabelPlace,
  usePlaceLabelPreview,
  useRemovePlace,
  useWithdraw,
  useWithdrawPreview,
} from '../../../data/discovery';
import { useLabels } from '../../../data/labels';
import { useMay } from '../../../data/session';
import { AskFirst } from '../../../ui/ask-first';
import { Button } from '../../../ui/button';
import { SelectField } from '../../../ui/field';
import { Loading, Notice } from '../../../ui/notice';
import {
  checkWords,
  number,
  PART_WORDS,
  points,
  REACH_WORDS,
  size,
  STORE_WORDS,
} from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { endsWords, placeTermsWords } from '../../../wording/place-terms';
import { ago, exactTime } from '../../../wording/times';
import { itemsPath } from '../discovery-page';
import { CleanUp } from './clean-up';
import { MovePlace } from './move-place';
import { PlaceForm } from './place-form';

/** One place: what lies there, the sum of what is wrong with its guard, and what can be done from here. */
export function PlaceView({ place }: { readonly place: DiscoveryPlaceView }) {
  const [editing, setEditing] = useState(false);
  const check = useCheckPlace();
  const remove = useRemovePlace();
  const mayRun = useMay('discovery.run');
  const mayManage = useMay('discovery.manage');
  if (editing) return <PlaceForm place={place} onDone={() => setEditing(false)} />;
  const error = check.error ?? remove.error;
  return (
    <article aria-label={place.name}>
      <header className="flex items-start gap-3">
        <div className="min-w-0">
          <h2 className="font-head text-[17px] text-ink">{place.name}</h2>
          <p className="text-[12.5px] text-ink-2">
            {STORE_WORDS[place.store].name}
            {place.address.at && (
              <>
                {' '}
                at <span className="font-mono break-all">{place.address.at}</span>
                {place.address.part && `, ${place.address.part}`}
              </>
            )}
            {place.owner && ` · ${place.owner}`} · readers: {place.group}
          </p>
        </div>
        <span className="ml-auto flex shrink-0 gap-2">
          {mayRun && <Button onClick={() => check.mutate(place.id)}>Check</Button>}
          {mayManage && <Button onClick={() => setEditing(true)}>Edit</Button>}
        </span>
      </header>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      <p className={`mt-2 ${place.check.state === 'failed' ? 'text-stop' : ''}`}>
        {checkWords(place.check, place.hasReader)}
      </p>
      {!place.hasReader && (
        <Notice>
          No reader of the group “{place.group}” was heard of in the last minute. Start one, or enrol one
          under Machines.
        </Notice>
      )}
      <Figures place={place} />
      <Sum place={place} />
      <Guard place={place} mayRun={mayRun} />
      <CleanUp place={place} mayRun={mayRun} />
      {mayRun && <MovePlace place={place} />}
      {mayManage && (
        <div className="mt-5">
          <AskFirst
            name="Remove this place"
            effect={`${place.name} leaves the list, with everything that was found in its ${number(place.figures.items)} items and their history. The store itself is not touched. To have it again, add it and run a job.`}
            does="Remove it"
            onDo={() => remove.mutate(place.id)}
          />
        </div>
      )}
    </article>
  );
}

const under = (place: string, more: string): string =>
  `${printFilter({ kind: 'compare', field: 'place', operator: 'eq', value: place })}${more ? ` and ${more}` : ''}`;

function Figures({ place }: { readonly place: DiscoveryPlaceView }) {
  const { figures, name, readAt } = place;
  const parts = [
    ['items', figures.items, 'state ne "gone"'],
    ['sensitive', figures.sensitive, 'sensitive eq true'],
    ['could not be read', figures.unreadable, 'state eq "unreadable"'],
    ['left out', figures.leftOut, 'state eq "left-out"'],
    ['in quarantine', figures.quarantined, 'quarantined eq true'],
  ] as const;
  return (
    <p className="mt-2 flex flex-wrap gap-x-4">
      {parts.map(([words, count, filter]) =>
        count > 0 ? (
          <Link key={words} className="part" to={itemsPath(under(name, filter))}>
            {number(count)} {words}
          </Link>
        ) : (
          <span key={words} className="text-ink-2">
            0 {words}
          </span>
        ),
      )}
      <span className="text-ink-2">{size(figures.bytes)}</span>
      {readAt && (
        <span className="text-ink-2" title={exactTime(readAt)}>
          gone through {ago(readAt, new Date())}
        </span>
      )}
    </p>
  );
}

/** Every part of the sum, each opening what it counts. */
function Sum({ place }: { readonly place: DiscoveryPlaceView }) {
  const labels = useLabels();
  const { exposure, label, name } = place;
  const above = (labels.data?.labels ?? []).flatMap(({ label: each }) =>
    label && each.rank > label.rank ? [each.name] : [],
  );
  if (exposure.parts.length === 0)
    return <p className="mt-4">Nothing sensitive lies here that its guard does not hold.</p>;
  return (
    <table className="mt-4 w-full">
      <caption className="text-left text-[12.5px] font-semibold text-ink-2">
        How far what lies here outruns its guard
      </caption>
      <thead>
        <tr className="border-b border-rule text-right text-[12.5px] text-ink-2">
          <th className="text-left font-normal">Sensitive items, and why they count</th>
          <th className="font-normal">Items</th>
          <th className="font-normal" title="1 for one certain finding, 1 more for every tenfold">
            They hold
          </th>
          <th className="font-normal">Points each</th>
          <th className="font-normal">Adds</th>
        </tr>
      </thead>
      <tbody>
        {exposure.parts.map((part) => (
          <tr key={part.code} className="border-b border-dotted border-rule text-right">
            <td className="py-1 text-left">{PART_WORDS[part.code]}</td>
            <td>
              <Link className="part" to={itemsPath(behindPart(part.code, { name, above }, Date.now()))}>
                {number(part.items)}
              </Link>
            </td>
            <td>{points(part.holding)}</td>
            <td>× {part.points}</td>
            <td>{points(part.adds)}</td>
          </tr>
        ))}
        <tr className="text-right font-semibold">
          <td className="py-1 text-left" colSpan={4}>
            Sum
          </td>
          <td>{points(exposure.total)}</td>
        </tr>
      </tbody>
    </table>
  );
}

/** What narrows the place: its label, and who may open it. */
function Guard({ place, mayRun }: { readonly place: DiscoveryPlaceView; readonly mayRun: boolean }) {
  const labels = useLabels();
  const label = useLabelPlace();
  const withdraw = useWithdraw();
  const [asked, setAsked] = useState(false);
  const [wish, setWish] = useState<string | null>(null);
  const preview = useWithdrawPreview(asked ? place.id : null);
  const isOutside =
    place.sharedOutside.length > 0 || place.reach === 'outside' || place.reach === 'anybody-with-link';
  const error = label.error ?? withdraw.error ?? preview.error;
  return (
    <section aria-label="Guard" className="mt-5 max-w-xl">
      <h2>Guard</h2>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      <p>
        Opened by {REACH_WORDS[place.reach]}
        {place.unmanaged ? ', from any machine' : ', from managed machines alone'}.
      </p>
      {place.sharedOutside.length > 0 && (
        <ul className="list-disc pl-5">
          {place.sharedOutside.map((address) => (
            <li key={address}>{address}</li>
          ))}
        </ul>
      )}
      {mayRun && isOutside && !asked && (
        <Button className="mt-2" onClick={() => setAsked(true)}>
          End access from outside …
        </Button>
      )}
      {asked && preview.data && (
        <Notice>
          <p>
            {preview.data.addresses.length > 0
              ? `${preview.data.addresses.join(', ')} can no longer open this place`
              : 'Links for people outside no longer open this place'}
            : {number(preview.data.items)} items, {number(preview.data.sensitive)} of them sensitive.
            {preview.data.links > 0 &&
              `${preview.data.links === 1 ? '1 link or share of a single item ends' : `${preview.data.links} links and shares of single items end`} too. `}
            Everybody in the organisation still can.
          </p>
          <span className="mt-1.5 flex gap-2">
            <Button
              look="stop"
              onClick={() => withdraw.mutate(place.id, { onSuccess: () => setAsked(false) })}
            >
              End it now
            </Button>
            <Button onClick={() => setAsked(false)}>Leave it</Button>
          </span>
        </Notice>
      )}
      <div className="mt-3 max-w-64">
        <SelectField
          label="Label of the place"
          value={wish ?? place.label?.id ?? ''}
          hint={
            mayRun
              ? 'Items with a higher label count against the place. What the label asks of places holds at once.'
              : 'Your account may not change it.'
          }
          options={[
            { value: '', label: 'none' },
            ...(labels.data?.labels ?? []).map(({ label: each }) => ({
              value: String(each.id),
              label: each.name,
            })),
          ]}
          onChange={(value) => mayRun && setWish(value)}
        />
      </div>
      {wish !== null && wish !== (place.label?.id ?? '') && (
        <LabelWish
          place={place}
          wish={wish || null}
          onSet={() =>
            label.mutate({ id: place.id, label: wish || null }, { onSettled: () => setWish(null) })
          }
          onLeave={() => setWish(null)}
        />
      )}
    </section>
  );
}

/** What a label on the place would end, before it is set. */
function LabelWish({
  place,
  wish,
  onSet,
  onLeave,
}: {
  readonly place: DiscoveryPlaceView;
  readonly wish: string | null;
  readonly onSet: () => void;
  readonly onLeave: () => void;
}) {
  const preview = usePlaceLabelPreview(place.id, wish);
  if (preview.isPending) return <Loading what="what it would change" />;
  if (preview.isError) return <Notice look="stop">{errorSentence(preview.error)}</Notice>;
  const { terms, isEnforced } = preview.data;
  const ends = endsWords(preview.data);
  return (
    <Notice>
      <p className="font-semibold">
        {terms ? 'From the moment it is set:' : 'This label asks nothing of places.'}
      </p>
      {terms && (
        <ul className="list-disc pl-5">
          {placeTermsWords(terms).map((each) => (
            <li key={each}>{each}</li>
          ))}
        </ul>
      )}
      {ends.length > 0 && (
        <>
          <p className="mt-1 font-semibold">What that ends:</p>
          <ul className="list-disc pl-5">
            {ends.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </>
      )}
      {terms && !isEnforced && (
        <p className="mt-1">
          Nothing here can enforce this for a store of another system. The label only says how to guard it.
        </p>
      )}
      <span className="mt-1.5 flex gap-2">
        <Button look={ends.length > 0 ? 'stop' : 'main'} onClick={onSet}>
          {wish === null ? 'Take the label off' : 'Label the place'}
        </Button>
        <Button onClick={onLeave}>Leave it</Button>
      </span>
    </Notice>
  );
}
