import { EVERYBODY, isEverybody } from '@lantern/core/directory';
import { AudienceEditor } from '../../shared/audience/audience-editor';
import { audienceWords } from '../../wording/audience';
import type { AgentView, ChannelView, NewAgent, UnfinishedChoice } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useAgents, useChannels, useCreateAgent, useRevokeAgent, useSetChannel } from '../../data/doors';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CHANNEL_WORDS, UNFINISHED_WORDS } from '../../wording/terms';
import { shortTime } from '../../wording/times';

/** Who hands in movements, and what happens where reading one does not finish. */
export function DoorsPage() {
  const may = useMay('agents.manage');
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <h1 className="mb-1">Agents and channels</h1>
      <p className="mb-4 max-w-3xl text-ink-2">
        Agents submit movements and receive the verdict. Your own agents use this address:{' '}
        <a className="part" href="/api/intake/schema" target="_blank" rel="noreferrer">
          /api/intake/movements
        </a>
        . Each agent needs its own key. The stand-ins go through the same pipeline.
      </p>
      <Agents may={may} />
      <Channels may={may} />
    </div>
  );
}

const NEW_AGENT = { name: '', people: EVERYBODY, hours: '' };

function Agents({ may }: { readonly may: boolean }) {
  const agents = useAgents();
  const create = useCreateAgent();
  const [draft, setDraft] = useState(NEW_AGENT);
  const [made, setMade] = useState<NewAgent | null>(null);
  return (
    <section aria-labelledby="agents" className="mb-7 max-w-4xl">
      <h2 id="agents" className="mb-2">
        Agent keys
      </h2>
      {agents.isPending && <Loading what="the agents" />}
      {agents.isError && <Notice look="stop">{errorSentence(agents.error)}</Notice>}
      {agents.data?.length === 0 && (
        <Empty title="No agent keys yet">
          Create one key for each machine, gateway or program that submits movements. A key is shown once.
        </Empty>
      )}
      {(agents.data?.length ?? 0) > 0 && (
        <table className="mb-3 w-full text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">agent</th>
              <th className="font-normal">created by</th>
              <th className="font-normal">last seen</th>
              <th className="text-right font-normal">movements</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {(agents.data ?? []).map((agent) => (
              <AgentRow key={agent.id} agent={agent} may={may} />
            ))}
          </tbody>
        </table>
      )}
      {made && (
        <Notice look="plain">
          The key of {made.name}, shown only now: <code className="break-all select-all">{made.key}</code>
        </Notice>
      )}
      <form
        aria-label="Create agent key"
        className="flex flex-col items-start gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          const { hours, ...agent } = draft;
          const limited = hours === '' ? agent : { ...agent, hoursBack: Number(hours) };
          create.mutate(limited, { onSuccess: (created) => (setMade(created), setDraft(NEW_AGENT)) });
        }}
      >
        <TextField
          label="Name of the agent"
          required
          minLength={3}
          maxLength={120}
          value={draft.name}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        <details className="w-full max-w-xl">
          <summary className="cursor-pointer text-press">Limit this key</summary>
          <div className="mt-2 flex flex-col gap-2">
            <AudienceEditor audience={draft.people} onChange={(people) => setDraft({ ...draft, people })} />
            <TextField
              label="Oldest movement, in hours"
              hint="Empty: no limit."
              type="number"
              min={1}
              max={8760}
              value={draft.hours}
              onChange={(event) => setDraft({ ...draft, hours: event.target.value })}
            />
          </div>
        </details>
        <Button type="submit" look="main" refusal={may ? undefined : 'Your account may not manage agents'}>
          Create key
        </Button>
      </form>
      {create.isError && <Notice look="stop">{errorSentence(create.error)}</Notice>}
    </section>
  );
}

/** What a key is limited to, as "for Fleet only, not older than 24 hours". */
function limitWords({ people, hoursBack }: AgentView): string {
  return [
    ...(isEverybody(people) ? [] : [`for ${audienceWords(people)} only`]),
    ...(hoursBack === null ? [] : [`not older than ${hoursBack} ${hoursBack === 1 ? 'hour' : 'hours'}`]),
  ].join(', ');
}

function AgentRow({ agent, may }: { readonly agent: AgentView; readonly may: boolean }) {
  const revoke = useRevokeAgent();
  return (
    <tr className="border-t border-rule align-baseline">
      <td className="py-1.5 pr-3">
        {agent.name}
        <span className="block text-[12.5px] text-ink-2">{limitWords(agent)}</span>
      </td>
      <td className="pr-3 text-ink-2">
        {agent.createdBy}, {shortTime(agent.createdAt, new Date())}
      </td>
      <td className="pr-3">{agent.lastSeen ? shortTime(agent.lastSeen, new Date()) : 'never'}</td>
      <td className="pr-3 text-right tabular-nums">{agent.movements}</td>
      <td className="text-right">
        {agent.revokedAt ? (
          <span className="text-ink-2">key revoked</span>
        ) : (
          <Button
            look="quiet"
            refusal={may ? undefined : 'Your account may not manage agents'}
            onClick={() =>
              revoke.mutate(agent.id, {
                onSuccess: () => toast(`The key of ${agent.name} is revoked`),
              })
            }
          >
            Revoke key
          </Button>
        )}
      </td>
    </tr>
  );
}

function Channels({ may }: { readonly may: boolean }) {
  const channels = useChannels();
  const set = useSetChannel();
  return (
    <section aria-labelledby="channels" className="max-w-4xl">
      <h2 id="channels" className="mb-1">
        Items that cannot be inspected
      </h2>
      <p className="mb-2 text-ink-2">
        Some items cannot be read in time. This sets what happens to them on each channel, unless a rule gives
        a stronger answer. Each case is recorded.
      </p>
      {channels.isError && <Notice look="stop">{errorSentence(channels.error)}</Notice>}
      {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
      <div className="flex max-w-md flex-col gap-2">
        {(channels.data ?? []).map((channel) => (
          <ChannelRow
            key={channel.channel}
            channel={channel}
            may={may}
            onSet={(unfinished, seconds) => set.mutate({ channel: channel.channel, unfinished, seconds })}
          />
        ))}
      </div>
    </section>
  );
}

interface RowProps {
  readonly channel: ChannelView;
  readonly may: boolean;
  readonly onSet: (choice: UnfinishedChoice, seconds: number) => void;
}

function ChannelRow({ channel, may, onSet }: RowProps) {
  const name = CHANNEL_WORDS[channel.channel];
  if (!may)
    return (
      <p>
        On {name}, after {channel.seconds} seconds: {UNFINISHED_WORDS[channel.unfinished]}
      </p>
    );
  return (
    <div className="flex items-end gap-3">
      <span className="flex-1">
        <SelectField
          label={`On ${name}`}
          value={channel.unfinished}
          options={channel.choices.map((value) => ({ value, label: UNFINISHED_WORDS[value] }))}
          onChange={(choice) => onSet(choice, channel.seconds)}
        />
      </span>
      <label className="flex items-center gap-2 text-[12.5px] text-ink-2">
        after
        <input
          type="number"
          className="field mt-0.5 !w-20"
          min={1}
          max={60}
          key={channel.seconds}
          defaultValue={channel.seconds}
          aria-label={`Seconds allowed for reading on ${name}`}
          onBlur={(event) => {
            const seconds = event.target.valueAsNumber;
            if (Number.isInteger(seconds) && seconds >= 1 && seconds <= 60 && seconds !== channel.seconds)
              onSet(channel.unfinished, seconds);
          }}
        />
        seconds
      </label>
    </div>
  );
}
