import { Places } from '../../ui/places';

const PLACES = [
  ['/labels', 'The scale'],
  ['/labels/offers', 'Who can choose them'],
  ['/labels/automatic', 'Set by machines'],
  ['/labels/runs', 'Through places'],
  ['/labels/changes', 'Changed on items'],
  ['/labels/review', 'What changes for people'],
  ['/publish', 'Review and publish'],
] as const;

/** The places around labels, in the order of the work. */
export const LabelPlaces = () => <Places label="Around labels" places={PLACES} />;
