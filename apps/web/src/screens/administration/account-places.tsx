import { Places } from '../../ui/places';

/** Links between the pages about who may do what. */
export function AccountPlaces() {
  return (
    <Places
      label="Accounts and roles"
      places={[
        ['/administration/accounts', 'Accounts'],
        ['/administration/roles', 'Roles'],
        ['/administration/programs', 'Service accounts'],
        ['/administration/sign-on', 'Single sign-on'],
      ]}
    />
  );
}
