import type { AccountView } from '@lantern/contracts';
import type { GroupRoles, SignOnRequest, SignOnView } from '@lantern/contracts/sign-on';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useAccounts } from '../../data/accounts';
import { useMay } from '../../data/session';
import { useSetSignOn, useSignOnSetting, useTrySignOn } from '../../data/sign-on';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { AccountPlaces } from './account-places';
import { RoleChoice } from './role-choice';

/** Signing in through the organisation's identity provider. */
export function SignOnPage() {
  const may = useMay('accounts.manage');
  const setting = useSignOnSetting();
  const accounts = useAccounts();
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Single sign-on</h1>
        <Notice>Your account cannot change how people sign in. An administrator can.</Notice>
      </div>
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <AccountPlaces />
      <h1 className="mb-1">Single sign-on</h1>
      <p className="mb-4 max-w-3xl text-ink-2">
        People sign in at your identity provider (OpenID Connect). Their groups there set their roles here at
        each sign-in. The first sign-in creates the account.
      </p>
      {setting.isPending && <Loading what="the setting" />}
      {setting.isError && <Notice look="stop">{errorSentence(setting.error)}</Notice>}
      {setting.data && accounts.data && (
        <SettingForm key={setting.data.changedAt} setting={setting.data} accounts={accounts.data} />
      )}
    </div>
  );
}

interface FormProps {
  readonly setting: SignOnView;
  readonly accounts: readonly AccountView[];
}

type Draft = Omit<SignOnRequest, 'clientSecret'> & { readonly clientSecret: string };

const draftOf = (setting: SignOnView): Draft => ({
  ...{ enabled: setting.enabled, issuer: setting.issuer, clientId: setting.clientId, clientSecret: '' },
  ...{ groupsClaim: setting.groupsClaim, onlyWay: setting.onlyWay, emergency: setting.emergency },
  groupRoles: setting.groupRoles.map(({ group, roles }) => ({ group, roles: [...roles] })),
});

function SettingForm({ setting, accounts }: FormProps) {
  const set = useSetSignOn();
  const attempt = useTrySignOn();
  const [draft, setDraft] = useState(() => draftOf(setting));
  const { clientSecret, ...rest } = draft;
  const request: SignOnRequest = clientSecret === '' ? rest : { ...rest, clientSecret };
  const change = (over: Partial<Draft>) => {
    attempt.reset();
    setDraft({ ...draft, ...over });
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    set.mutate(request, { onSuccess: () => toast('Single sign-on is saved.') });
  };
  const incomplete = draft.issuer === '' || draft.clientId === '' ? 'Enter issuer and client ID' : undefined;
  return (
    <form onSubmit={submit} aria-label="Single sign-on" className="flex max-w-3xl flex-col gap-4">
      <Check checked={draft.enabled} onChange={(enabled) => change({ enabled })}>
        People can sign in through the identity provider
      </Check>
      <ProviderFields draft={draft} hasSecret={setting.hasSecret} change={change} />
      <p className="text-[12.5px] text-ink-2">
        Enter at the provider: redirect URI <code className="select-all">{setting.redirectUri}</code>,
        back-channel logout <code className="select-all">{setting.backChannelUri}</code>
      </p>
      <Groups groups={draft.groupRoles} onChange={(groupRoles) => change({ groupRoles })} />
      <Emergencies draft={draft} accounts={accounts} change={change} />
      {attempt.data && (
        <Notice look={attempt.data.reached ? 'go' : 'stop'}>
          {attempt.data.reached
            ? `The provider answered.${attempt.data.endSession ? '' : ' It does not support sign-out.'}`
            : attempt.data.why}
        </Notice>
      )}
      {attempt.isError && <Notice look="stop">{errorSentence(attempt.error)}</Notice>}
      {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
      <span className="flex gap-2">
        <Button look="main" type="submit" refusal={incomplete}>
          Save
        </Button>
        <Button onClick={() => attempt.mutate(request)} refusal={incomplete}>
          {attempt.isPending ? 'Asking …' : 'Try the provider'}
        </Button>
      </span>
      {setting.changedAt && (
        <p className="text-[12.5px] text-ink-2">
          Changed {shortTime(setting.changedAt, new Date())} by {setting.changedBy}.
        </p>
      )}
    </form>
  );
}

interface FieldsProps {
  readonly draft: Draft;
  readonly change: (over: Partial<Draft>) => void;
}

function ProviderFields({ draft, hasSecret, change }: FieldsProps & { readonly hasSecret: boolean }) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <TextField
        label="Issuer"
        hint="Its address, as in https://id.example.com"
        value={draft.issuer}
        maxLength={400}
        onChange={(event) => change({ issuer: event.target.value.trim() })}
      />
      <TextField
        label="Client ID"
        value={draft.clientId}
        maxLength={200}
        onChange={(event) => change({ clientId: event.target.value })}
      />
      <TextField
        label="Client secret"
        type="password"
        autoComplete="off"
        hint={hasSecret ? 'One is stored. Leave it empty to keep it.' : 'Leave it empty for a public client.'}
        value={draft.clientSecret}
        maxLength={400}
        onChange={(event) => change({ clientSecret: event.target.value })}
      />
      <TextField
        label="Claim with the groups"
        value={draft.groupsClaim}
        maxLength={100}
        onChange={(event) => change({ groupsClaim: event.target.value })}
      />
    </div>
  );
}

interface GroupsProps {
  readonly groups: readonly GroupRoles[];
  readonly onChange: (groups: GroupRoles[]) => void;
}

function Groups({ groups, onChange }: GroupsProps) {
  const [group, setGroup] = useState('');
  const known = groups.some((each) => each.group === group.trim());
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Roles of groups</legend>
      {groups.length === 0 && <p className="text-ink-2">No group has a role yet, so nobody can sign in.</p>}
      {groups.map((each) => (
        <div key={each.group} className="border-t border-rule py-2">
          <div className="mb-1 flex items-baseline gap-3">
            <span className="font-semibold">{each.group}</span>
            <Button look="quiet" onClick={() => onChange(groups.filter((other) => other !== each))}>
              Remove<span className="sr-only"> {each.group}</span>
            </Button>
          </div>
          <RoleChoice
            roles={each.roles}
            onChange={(roles) =>
              onChange(groups.map((other) => (other === each ? { ...each, roles: [...roles] } : other)))
            }
          />
        </div>
      ))}
      <div className="mt-2 flex items-end gap-2">
        <TextField
          label="Group at the provider"
          className="w-72"
          value={group}
          maxLength={200}
          onChange={(event) => setGroup(event.target.value)}
        />
        <Button
          refusal={group.trim() === '' ? 'Enter a group' : known ? 'This group is listed' : undefined}
          onClick={() => {
            onChange([...groups, { group: group.trim(), roles: [] }]);
            setGroup('');
          }}
        >
          Add group
        </Button>
      </div>
    </fieldset>
  );
}

function Emergencies({ draft, accounts, change }: FieldsProps & Pick<FormProps, 'accounts'>) {
  const can = accounts.filter(
    ({ kind, state, signOn, permissions }) =>
      kind === 'person' && state === 'active' && !signOn && permissions.includes('accounts.manage'),
  );
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Passwords</legend>
      <Check checked={draft.onlyWay} onChange={(onlyWay) => change({ onlyWay })}>
        Only the emergency account can sign in with a password
      </Check>
      <div className="w-96">
        <SelectField
          label="Emergency account"
          hint="Every administrator gets a mail each time it is used."
          value={draft.emergency ?? ''}
          options={[
            { value: '', label: 'none' },
            ...can.map(({ id, name, email }) => ({ value: id, label: `${name}, ${email}` })),
          ]}
          onChange={(emergency) => change({ emergency: emergency === '' ? null : emergency })}
        />
      </div>
    </fieldset>
  );
}

function Check({
  checked,
  onChange,
  children,
}: {
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
  readonly children: string;
}) {
  return (
    <label className="flex min-h-7 items-center gap-2">
      <input type="checkbox" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      {children}
    </label>
  );
}
