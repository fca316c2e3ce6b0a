import type {
  CountryCondition,
  DomainCondition,
  ExchangeCondition,
  ReachCondition,
  ReceiversCondition,
  RecipientCondition,
} from '@lantern/core/policy';
import { Link } from 'react-router';
import { useExchanges } from '../../../data/policies';
import { SelectField, TextArea } from '../../../ui/field';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { ChooseSeveral } from './choose-several';
import { NumberField } from '../../../ui/number-field';
import { type EditorProps } from './content-editors';

const QUANTITIES = [
  { value: 'any', label: 'any recipient is' },
  { value: 'every', label: 'all recipients are' },
] as const;

function Quantity<Clause extends { readonly quantity: 'any' | 'every' }>({
  clause,
  onChange,
}: EditorProps<Clause>) {
  return (
    <SelectField
      label="Recipients"
      value={clause.quantity}
      options={QUANTITIES}
      onChange={(quantity) => onChange({ ...clause, quantity })}
    />
  );
}

export function RecipientEditor({ clause, onChange }: EditorProps<RecipientCondition>) {
  return (
    <div className="grid grid-cols-2 gap-2.5">
      <Quantity clause={clause} onChange={onChange} />
      <SelectField
        label="Where"
        value={clause.side}
        options={[
          { value: 'outside', label: 'outside' },
          { value: 'inside', label: 'inside' },
        ]}
        onChange={(side) => onChange({ ...clause, side })}
      />
    </div>
  );
}

const listed = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

export function DomainEditor({ clause, onChange }: EditorProps<DomainCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <Quantity clause={clause} onChange={onChange} />
      <TextArea
        label="Domains, one per line"
        hint="Hosts below a domain are included."
        rows={4}
        defaultValue={clause.domains.join('\n')}
        onChange={(event) => onChange({ ...clause, domains: listed(event.target.value) })}
      />
    </div>
  );
}

export function CountryEditor({ clause, onChange }: EditorProps<CountryCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <Quantity clause={clause} onChange={onChange} />
      <TextArea
        label="Countries"
        hint="Two letters each (ISO 3166-1), for example NO, DE."
        rows={2}
        defaultValue={clause.countries.join(' ')}
        onChange={(event) => onChange({ ...clause, countries: listed(event.target.value.toUpperCase()) })}
      />
    </div>
  );
}

export function ReceiversEditor({ clause, onChange }: EditorProps<ReceiversCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <Quantity clause={clause} onChange={onChange} />
      <AudienceEditor audience={clause.people} onChange={(people) => onChange({ ...clause, people })} />
    </div>
  );
}

export function ReachEditor({ clause, onChange }: EditorProps<ReachCondition>) {
  return (
    <div className="grid grid-cols-2 gap-2.5">
      <NumberField
        label="At least"
        value={clause.atLeast}
        onChange={(atLeast) => onChange({ ...clause, atLeast })}
      />
      <SelectField
        label="Who can read it"
        value={clause.side}
        options={[
          { value: 'outside', label: 'people outside' },
          { value: 'anywhere', label: 'anyone' },
        ]}
        onChange={(side) => onChange({ ...clause, side })}
      />
    </div>
  );
}

export function ExchangeEditor({ clause, onChange }: EditorProps<ExchangeCondition>) {
  const exchanges = useExchanges();
  return (
    <>
      <ChooseSeveral
        label="Which exchanges"
        hint="None selected: any exchange that covers the sender, the recipients and the content."
        options={(exchanges.data ?? []).map(({ exchange }) => ({ value: exchange.id, label: exchange.name }))}
        chosen={clause.exchanges}
        onChange={(chosen) => onChange({ ...clause, exchanges: chosen })}
      />
      <Link className="part mt-2 inline-block" to="/policies/exchanges">
        Open approved exchanges
      </Link>
    </>
  );
}
