import { Navigate } from 'react-router';
import { useMay, useOverview, useSession } from '../data/session';
import { homeOf } from './areas';

/** The first screen of an account: the one its work is on, or setting up where nothing is in force yet. */
export function Home() {
  const { data } = useSession();
  const maySetUp = useMay('people.manage');
  const overview = useOverview();
  if (!data || (maySetUp && overview.isPending)) return null;
  const isNew = maySetUp && overview.data?.revision === null;
  return <Navigate to={isNew ? '/first-steps' : homeOf(data.account.permissions)} replace />;
}
