import type { DiscoveryPlaceView } from '@lantern/contracts/discovery';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useDiscoveryPlaces } from '../../../data/discovery';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { placeLine, points, STORE_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { chosenOf, ListAndOne, ListRow } from '../../../ui/list-and-one';
import { DiscoveryPage } from '../discovery-page';
import { PlaceForm } from './place-form';
import { PlaceView } from './place-view';

/** Places, ordered by how far what lies there outruns their guard. */
export function PlacesPage() {
  const places = useDiscoveryPlaces();
  const mayManage = useMay('discovery.manage');
  const [search, setSearch] = useSearchParams();
  const [isNew, setIsNew] = useState(false);
  const chosen = chosenOf(places.data, search.get('place'), places.isFetching);
  const most = places.data?.[0]?.exposure.total ?? 0;
  return (
    <DiscoveryPage
      bar={
        <Button
          look="main"
          refusal={mayManage ? undefined : 'An administrator adds places.'}
          onClick={() => setIsNew(true)}
        >
          Add place
        </Button>
      }
    >
      <ListAndOne
        listName="Places"
        list={
          <>
            {places.error && <Notice look="stop">{errorSentence(places.error)}</Notice>}
            {places.isPending && <Loading what="the places" />}
            {places.data?.length === 0 && !isNew && (
              <Empty title="No place yet">
                Enrol a reader near the data, then say where to look: a folder, a share, a bucket, a mailbox
                or the tables of a database.
              </Empty>
            )}
            <ol>
              {places.data?.map((place) => (
                <li key={place.id}>
                  <PlaceRow
                    place={place}
                    most={most}
                    chosen={!isNew && place.id === chosen?.id}
                    onChoose={() => {
                      setIsNew(false);
                      setSearch({ place: place.id });
                    }}
                  />
                </li>
              ))}
            </ol>
          </>
        }
        oneName="One place"
        one={
          isNew ? (
            <PlaceForm
              place={null}
              onDone={(id) => {
                setIsNew(false);
                if (id) setSearch({ place: id });
              }}
            />
          ) : (
            chosen && <PlaceView key={chosen.id} place={chosen} />
          )
        }
      />
    </DiscoveryPage>
  );
}

interface RowProps {
  readonly place: DiscoveryPlaceView;
  /** The largest exposure of all places: the length of a whole bar. */
  readonly most: number;
  readonly chosen: boolean;
  readonly onChoose: () => void;
}

function PlaceRow({ place, most, chosen, onChoose }: RowProps) {
  const { exposure } = place;
  const share = most > 0 ? exposure.total / most : 0;
  return (
    <ListRow isChosen={chosen} onChoose={onChoose}>
      <span className="flex items-baseline gap-2">
        <b>{place.name}</b>
        <span className="text-[12.5px] text-ink-2">{STORE_WORDS[place.store].name}</span>
        <span className="ml-auto font-head text-[15px]" title="How far what lies there outruns its guard">
          {points(exposure.total)}
        </span>
      </span>
      <span aria-hidden className="mt-0.5 block h-[3px] bg-sunk">
        <span className="block h-full bg-ink" style={{ width: `${share * 100}%` }} />
      </span>
      <span className="mt-0.5 block text-[12.5px] text-ink-2">
        {place.check.state === 'failed'
          ? 'Cannot be opened'
          : place.readAt === null && place.figures.items === 0
            ? 'Not gone through yet'
            : placeLine(place)}
        {!place.hasReader && ' · no reader at work'}
      </span>
    </ListRow>
  );
}
