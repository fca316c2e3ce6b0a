import type { FieldName, Listed } from '@lantern/core/incidents';
import { useFieldValues } from '../../data/queue';

type UseValues = (field: FieldName | null, begun: string) => readonly string[];

/** Values of a field of the desk that begin alike: a hook for each list. */
const valuesIn = (listed: Listed): UseValues =>
  function useDeskValues(field, begun) {
    const values = useFieldValues({ listed, filter: '', field }, begun);
    return (values.data ?? []).flatMap(({ value }) => (value === null ? [] : [String(value)]));
  };

export const DESK_VALUES: Readonly<Record<Listed, UseValues>> = {
  incidents: valuesIn('incidents'),
  matches: valuesIn('matches'),
  movements: valuesIn('movements'),
};
