import type { ReaderCost, ReaderView } from '@lantern/contracts';
import { useCostOfGroup, useReaderCost } from '../../../data/discovery';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { number, size } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';

const FIELDS = [
  ['processor', 'Share of a processor', (value: number) => `${Math.round(value * 100)} %`],
  ['bytesPerSecond', 'Bytes a second', size],
  ['itemsPerSecond', 'Items a second', (value: number) => number(Math.round(value * 10) / 10)],
] as const;

/** What it may cost its machine, beside what it did cost in the last minute. */
export function MachineCost({
  reader,
  mayManage,
}: {
  readonly reader: ReaderView;
  readonly mayManage: boolean;
}) {
  const save = useReaderCost();
  const ofGroup = useCostOfGroup();
  const { promised, used, ownCost } = reader;
  return (
    <>
      <p className="mt-3 text-[12.5px] text-ink-2">
        {ownCost
          ? 'These limits are its own.'
          : `These limits are those of the group ${reader.group}. A change here makes them its own.`}{' '}
        {ownCost && mayManage && (
          <Button look="quiet" onClick={() => ofGroup.mutate(reader.id)}>
            Use the limits of its group
          </Button>
        )}
      </p>
      {ofGroup.error && <Notice look="stop">{errorSentence(ofGroup.error)}</Notice>}
      <table className="mt-1 text-[12.5px]">
        <caption className="sr-only">What {reader.name} may cost and costs</caption>
        <thead>
          <tr className="text-left text-ink-2">
            <th className="pr-6 font-normal">Cost to its machine</th>
            <th className="pr-6 font-normal">At most</th>
            <th className="font-normal">In the last minute</th>
          </tr>
        </thead>
        <tbody>
          {FIELDS.map(([field, words, show]) => (
            <tr key={field}>
              <td className="pr-6">{words}</td>
              <td className="pr-6">
                <input
                  aria-label={`${words}, at most`}
                  className="field !w-28 !py-0.5"
                  type="number"
                  min={0}
                  step="any"
                  placeholder="no limit"
                  readOnly={!mayManage}
                  defaultValue={promised[field] ?? ''}
                  key={String(promised[field])}
                  onBlur={({ target }) => {
                    const value = target.value === '' ? null : Number(target.value);
                    if (value !== promised[field])
                      save.mutate({ id: reader.id, cost: { ...promised, [field]: value } });
                  }}
                />
              </td>
              <td>{used ? show(used[field]) : 'nothing'}</td>
            </tr>
          ))}
          <tr>
            <td className="pr-6">Memory</td>
            <td className="pr-6 text-ink-2">1.5 GB a process</td>
            <td>{used ? `${number(used.residentMegabytes)} MB beside its processes` : 'nothing'}</td>
          </tr>
        </tbody>
        <tbody>
          <Times
            reader={reader}
            mayManage={mayManage}
            onSave={(cost) => save.mutate({ id: reader.id, cost })}
          />
        </tbody>
        {save.error && (
          <tfoot>
            <tr>
              <td colSpan={3} className="text-stop">
                {errorSentence(save.error)}
              </td>
            </tr>
          </tfoot>
        )}
      </table>
    </>
  );
}

/** When it goes through places: at which hours, and with how much of its battery left. */
function Times({
  reader,
  mayManage,
  onSave,
}: {
  readonly reader: ReaderView;
  readonly mayManage: boolean;
  readonly onSave: (cost: ReaderCost) => void;
}) {
  const { promised } = reader;
  const hours = promised.hours ?? null;
  const time = (end: 'from' | 'to') => (
    <input
      aria-label={`Reading hours ${end}`}
      className="field !w-28 !py-0.5"
      type="time"
      readOnly={!mayManage}
      defaultValue={hours?.[end] ?? ''}
      key={`${end} ${hours?.[end] ?? ''}`}
      onBlur={({ target }) => {
        if (target.value === (hours?.[end] ?? '')) return;
        const other =
          end === 'from' ? { from: '', to: hours?.to ?? '23:59' } : { from: hours?.from ?? '00:00', to: '' };
        onSave({ ...promised, hours: target.value === '' ? null : { ...other, [end]: target.value } });
      }}
    />
  );
  return (
    <>
      <tr>
        <td className="pr-6">Reading hours</td>
        <td className="py-0.5 pr-6" colSpan={2}>
          from {time('from')} to {time('to')}{' '}
          <span className="text-ink-2">{hours ? 'by its own clock' : 'all day'}</span>
        </td>
      </tr>
      <tr>
        <td className="pr-6">On battery, only above</td>
        <td className="pr-6" colSpan={2}>
          <input
            aria-label="On battery, only above, percent"
            className="field !w-28 !py-0.5"
            type="number"
            min={1}
            max={100}
            placeholder="any charge"
            readOnly={!mayManage}
            defaultValue={promised.batteryAbove ?? ''}
            key={String(promised.batteryAbove)}
            onBlur={({ target }) => {
              const value = target.value === '' ? null : Number(target.value);
              if (value !== (promised.batteryAbove ?? null)) onSave({ ...promised, batteryAbove: value });
            }}
          />{' '}
          % <span className="text-ink-2">Checks, changes and requests for single items always run.</span>
        </td>
      </tr>
    </>
  );
}
