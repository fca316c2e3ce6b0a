import { Places } from '../../ui/places';

const PLACES = [
  ['/labels', 'Labels by rank'],
  ['/labels/offers', 'Label offers'],
  ['/labels/automatic', 'Automatic labels'],
  ['/labels/runs', 'Label stored files'],
  ['/labels/changes', 'Label history'],
  ['/labels/review', 'Who is affected'],
  ['/publish', 'Review and publish'],
] as const;

/** The places around labels, in the order of the work. */
export const LabelPlaces = () => <Places label="Around labels" places={PLACES} />;
