import { Places } from '../ui/places';

const PLACES = [
  ['/policies', 'Rules'],
  ['/policies/texts', 'Messages'],
  ['/policies/exchanges', 'Approved exchanges'],
  ['/policies/spots', 'Applications and sites'],
  ['/policies/coverage', 'Coverage'],
  ['/policies/replay', 'Replay'],
  ['/policies/packs', 'Starter packs'],
  ['/publish', 'Review and publish'],
] as const;

/** The places around policies, in the order of the work. */
export const PolicyPlaces = () => <Places label="Around policies" places={PLACES} />;
