import { CONNECTIONS, LINK_KINDS, MACHINE_STATES, NETWORK_STATES } from '@lantern/core/movement';
import {
  type ConnectionCondition,
  type LinkCondition,
  type MachineCondition,
  type NetworkCondition,
  type RowsCondition,
} from '@lantern/core/policy';
import { CONNECTION_WORDS, LINK_WORDS, MACHINE_WORDS, NETWORK_WORDS } from '../../../wording/terms';
import { ChooseSeveral } from './choose-several';
import { NumberField } from '../../../ui/number-field';
import { type EditorProps } from './content-editors';

export function LinkEditor({ clause, onChange }: EditorProps<LinkCondition>) {
  return (
    <ChooseSeveral
      label="The link opens for"
      hint="None selected: any link. If no link is made, the condition does not hold."
      options={LINK_KINDS.map((value) => ({ value, label: LINK_WORDS[value] }))}
      chosen={clause.links}
      onChange={(links) => onChange({ ...clause, links })}
    />
  );
}

export function ConnectionEditor({ clause, onChange }: EditorProps<ConnectionCondition>) {
  return (
    <ChooseSeveral
      label="The connection is"
      hint="For mail, the connection is not known in advance."
      options={CONNECTIONS.map((value) => ({ value, label: CONNECTION_WORDS[value] }))}
      chosen={clause.states}
      onChange={(states) => onChange({ ...clause, states })}
    />
  );
}

export function MachineEditor({ clause, onChange }: EditorProps<MachineCondition>) {
  return (
    <ChooseSeveral
      label="The machine is"
      options={MACHINE_STATES.map((value) => ({ value, label: MACHINE_WORDS[value] }))}
      chosen={clause.states}
      onChange={(states) => onChange({ ...clause, states })}
    />
  );
}

export function NetworkEditor({ clause, onChange }: EditorProps<NetworkCondition>) {
  return (
    <ChooseSeveral
      label="The network is"
      options={NETWORK_STATES.map((value) => ({ value, label: NETWORK_WORDS[value] }))}
      chosen={clause.states}
      onChange={(states) => onChange({ ...clause, states })}
    />
  );
}

export function RowsEditor({ clause, onChange }: EditorProps<RowsCondition>) {
  return (
    <NumberField
      label="Minimum number of rows"
      hint="All sheets and tables together, headings included."
      value={clause.atLeast}
      onChange={(atLeast) => onChange({ ...clause, atLeast })}
    />
  );
}
