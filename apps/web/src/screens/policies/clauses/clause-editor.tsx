import type { Condition, LeafCondition } from '@lantern/core/policy';
import { assertNever } from '@lantern/core/shared';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { ColumnsEditor, FieldsEditor, RightsEditor, SignInEditor, UseEditor } from './application-editors';
import { WindowEditor } from './window-editors';
import { LabelEditor } from './label-editor';
import { FileEditor, MeasureEditor, UnreadableEditor } from './content-editors';
import { ChannelEditor, RateEditor, SizeEditor, TimeEditor, TriesEditor } from './occasion-editors';
import { ConnectionEditor, LinkEditor, MachineEditor, NetworkEditor, RowsEditor } from './way-editors';
import { SpotsEditor } from './spots-editor';
import {
  CountryEditor,
  DomainEditor,
  ExchangeEditor,
  ReachEditor,
  ReceiversEditor,
  RecipientEditor,
} from './people-editors';

interface Props {
  readonly clause: LeafCondition;
  readonly onChange: (clause: Condition) => void;
}

/** The small editor of one clause. */
export function ClauseEditor({ clause, onChange }: Props) {
  switch (clause.kind) {
    case 'findings':
      return <MeasureEditor clause={clause} onChange={onChange} />;
    case 'unreadable':
      return <UnreadableEditor clause={clause} onChange={onChange} />;
    case 'recipient':
      return <RecipientEditor clause={clause} onChange={onChange} />;
    case 'domain':
      return <DomainEditor clause={clause} onChange={onChange} />;
    case 'country':
      return <CountryEditor clause={clause} onChange={onChange} />;
    case 'receivers':
      return <ReceiversEditor clause={clause} onChange={onChange} />;
    case 'sender':
      return (
        <AudienceEditor audience={clause.people} onChange={(people) => onChange({ ...clause, people })} />
      );
    case 'reach':
      return <ReachEditor clause={clause} onChange={onChange} />;
    case 'file':
      return <FileEditor clause={clause} onChange={onChange} />;
    case 'size':
      return <SizeEditor clause={clause} onChange={onChange} />;
    case 'time':
      return <TimeEditor clause={clause} onChange={onChange} />;
    case 'rate':
      return <RateEditor clause={clause} onChange={onChange} />;
    case 'tries':
      return <TriesEditor clause={clause} onChange={onChange} />;
    case 'exchange':
      return <ExchangeEditor clause={clause} onChange={onChange} />;
    case 'label':
      return <LabelEditor clause={clause} onChange={onChange} />;
    case 'taken-from':
    case 'put-into':
      return <SpotsEditor clause={clause} onChange={onChange} />;
    case 'link':
      return <LinkEditor clause={clause} onChange={onChange} />;
    case 'connection':
      return <ConnectionEditor clause={clause} onChange={onChange} />;
    case 'machine':
      return <MachineEditor clause={clause} onChange={onChange} />;
    case 'network':
      return <NetworkEditor clause={clause} onChange={onChange} />;
    case 'rows':
      return <RowsEditor clause={clause} onChange={onChange} />;
    case 'use':
      return <UseEditor clause={clause} onChange={onChange} />;
    case 'columns':
      return <ColumnsEditor clause={clause} onChange={onChange} />;
    case 'fields':
      return <FieldsEditor clause={clause} onChange={onChange} />;
    case 'rights':
      return <RightsEditor clause={clause} onChange={onChange} />;
    case 'sign-in':
      return <SignInEditor clause={clause} onChange={onChange} />;
    case 'sum':
    case 'values':
    case 'usual':
      return <WindowEditor clause={clause} onChange={onChange} />;
    case 'channel':
      return <ChannelEditor clause={clause} onChange={onChange} />;
    default:
      return assertNever(clause);
  }
}
