import type { PutIntoCondition, TakenFromCondition } from '@lantern/core/policy';
import { Link } from 'react-router';
import { useSpotGroups } from '../../../data/policies';
import type { EditorProps } from './content-editors';
import { SpotList } from '../spots/spot-list';

/** Applications, hosts, devices and places that something is taken from or put into. */
export function SpotsEditor({ clause, onChange }: EditorProps<TakenFromCondition | PutIntoCondition>) {
  const groups = useSpotGroups();
  return (
    <div className="flex flex-col gap-2">
      <SpotList
        label={clause.kind === 'taken-from' ? 'It is taken from' : 'It is put into'}
        spots={clause.spots}
        groups={(groups.data ?? []).map(({ spots }) => spots)}
        onChange={(spots) => onChange({ ...clause, spots })}
      />
      <Link className="part self-start" to="/policies/spots">
        Open applications and sites
      </Link>
    </div>
  );
}
