import { ROLE_IDS, type Role } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useAddView, useChangeView, useDeleteView, useDeskViews } from '../../../data/desk';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { EditorPopover } from '../../../ui/popover';
import { errorSentence } from '../../../wording/errors';
import { ROLE_WORDS } from '../../../wording/roles';
import type { DeskState } from '../desk-state';

interface Props {
  readonly state: DeskState;
  readonly onOpen: (state: DeskState) => void;
}

/** Saved views: opened, saved from what is shown, shared, made the first of a role. */
export function ViewMenu({ state, onOpen }: Props) {
  const views = useDeskViews();
  const add = useAddView();
  const change = useChangeView();
  const remove = useDeleteView();
  const [name, setName] = useState('');
  const [shared, setShared] = useState(false);
  const [role, setRole] = useState<Role | ''>('');
  const told = { onError: (error: unknown) => void toast.error(errorSentence(error)) };
  const request = { state: { ...state, group: [...state.group] } };
  return (
    <EditorPopover
      label="Views"
      wide
      trigger={
        <button type="button" className="part text-[12.5px]">
          Views
        </button>
      }
    >
      <div className="flex flex-col gap-2">
        <ul aria-label="Saved views" className="max-h-56 overflow-auto">
          {(views.data ?? []).map((view) => (
            <li key={view.id} className="flex items-center gap-1 border-b border-dotted border-rule py-1">
              <button
                type="button"
                className="min-w-0 flex-1 truncate rounded-[3px] px-1 text-left hover:bg-press-soft"
                onClick={() => onOpen(view.state)}
              >
                <b>{view.name}</b>{' '}
                <span className="text-[12px] text-ink-2">
                  {view.shared ? `shared by ${view.own ? 'you' : view.owner}` : 'own'}
                  {view.role && `, opens first: ${ROLE_WORDS[view.role].name}`}
                </span>
              </button>
              {view.own && (
                <>
                  <Button
                    look="quiet"
                    onClick={() =>
                      change.mutate(
                        {
                          ...{ id: view.id, name: view.name, shared: view.shared, version: view.version },
                          ...(view.role ? { role: view.role } : {}),
                          ...request,
                        },
                        told,
                      )
                    }
                  >
                    Update
                  </Button>
                  <Button
                    look="quiet"
                    onClick={() =>
                      remove.mutate(view.id, {
                        ...told,
                        onSuccess: () =>
                          toast(`View "${view.name}" deleted`, {
                            action: {
                              label: 'Undo',
                              onClick: () =>
                                add.mutate({ name: view.name, shared: view.shared, state: view.state }),
                            },
                          }),
                      })
                    }
                  >
                    Delete
                  </Button>
                </>
              )}
            </li>
          ))}
          {views.data?.length === 0 && <li className="text-ink-2">No view is saved yet.</li>}
        </ul>
        <TextField
          label="Save what is shown as"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={shared} onChange={(event) => setShared(event.target.checked)} />
          Share with everyone who reads incidents
        </label>
        {shared && (
          <SelectField
            label="Opens first for"
            value={role}
            options={[
              { value: '', label: 'nobody' },
              ...ROLE_IDS.map((id) => ({ value: id, label: ROLE_WORDS[id].name })),
            ]}
            onChange={setRole}
          />
        )}
        <Button
          look="main"
          refusal={name.trim() === '' ? 'Name the view first' : undefined}
          onClick={() =>
            add.mutate(
              { name: name.trim(), shared, ...(shared && role ? { role } : {}), ...request },
              { ...told, onSuccess: () => setName('') },
            )
          }
        >
          Save view
        </Button>
      </div>
    </EditorPopover>
  );
}
