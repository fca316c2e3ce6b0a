import { Navigate } from 'react-router';
import { useSession } from '../data/session';
import { homeOf } from './areas';

/** The first screen of an account: the one its work is on. */
export function Home() {
  const { data } = useSession();
  return data ? <Navigate to={homeOf(data.account.permissions)} replace /> : null;
}
