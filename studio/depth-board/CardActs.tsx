'use client';

import { Button, Dropdown, Input, Modal, type MenuProps } from 'antd';
import { useState } from 'react';
import { mapQuery } from '../api';
import { useRoom, useRoomStore } from '../room/context';
import { together, type Hung } from './hang';

/** What can be done to the plate in work, on its card. */
export function CardActs({ plate, id, onRename }: { plate: Hung; id: string; onRename(): void }) {
  const store = useRoomStore();
  const shot = useRoom((s) => s.shot.id);
  const plates = useRoom((s) => s.document.plates);
  const moves = useRoom((s) => s.document.footage !== null);
  const moment = useRoom((s) => s.document.source.moment);
  const [grouping, setGrouping] = useState<string | undefined>();
  const [removing, setRemoving] = useState(false);
  const { name, hidden, locked, cut, group } = plate;
  const all = (part: { hidden?: boolean; locked?: boolean; group?: string | null }): { id: string }[] =>
    together(store.getState().document, id).map((p) => ({ id: p.id, ...part }));
  const others = plates.filter((p) => p.id !== id && p.matte !== null);
  const groups = [...new Set(plates.flatMap((p) => (p.group !== null && p.group !== group ? [p.group] : [])))];
  const join = (to: string): void => {
    store.getState().change(`Group ${name} with ${to}`, { plates: [{ id, group: to }] });
  };
  const items: MenuProps['items'] = [
    { key: 'rename', label: 'Rename', onClick: onRename },
    {
      key: 'duplicate',
      label: 'Duplicate',
      disabled: !cut,
      onClick: () => {
        store.getState().actOnPlates('Duplicate a plate', { action: 'duplicate', plate: id });
      },
    },
    {
      key: 'merge',
      label: 'Take another plate into this one',
      disabled: !cut || locked || others.length === 0 || moves,
      children: others.map((o) => ({
        key: `merge-${o.id}`,
        label: o.locked ? `${o.name} (locked)` : o.name,
        disabled: o.locked,
        onClick: () => {
          store.getState().actOnPlates(`Merge ${o.name}`, { action: 'merge', plate: id, other: o.id });
        },
      })),
    },
    {
      key: 'group',
      label: group === null ? 'Group' : `Group: ${group}`,
      children: [
        ...groups.map((g) => ({
          key: `group-${g}`,
          label: `Join ${g}`,
          onClick: () => {
            join(g);
          },
        })),
        {
          key: 'new',
          label: 'New group',
          onClick: () => {
            setGrouping('');
          },
        },
        ...(group === null
          ? []
          : [
              {
                key: 'leave',
                label: `Leave ${group}`,
                onClick: () => {
                  store.getState().change(`Take ${name} out of ${group}`, { plates: [{ id, group: null }] });
                },
              },
            ]),
      ],
    },
    {
      key: 'matte',
      disabled: !cut,
      label: <a href={`/api/shots/${shot}/plates/matte?${mapQuery({ plate: id, moment })}`}>Download its matte</a>,
    },
    {
      key: 'depth',
      disabled: !cut,
      label: <a href={`/api/shots/${shot}/depth/export?plate=${id}`}>Download its depth</a>,
    },
    {
      key: 'remove',
      label: 'Remove',
      danger: true,
      disabled: locked,
      onClick: () => {
        setRemoving(true);
      },
    },
  ];
  return (
    <>
      <Button
        type="link"
        size="small"
        onClick={() => {
          store
            .getState()
            .change(hidden ? `Show ${group ?? name}` : `Hide ${group ?? name}`, { plates: all({ hidden: !hidden }) });
        }}
      >
        {hidden ? 'Show' : 'Hide'}
      </Button>
      <Button
        type="link"
        size="small"
        onClick={() => {
          store
            .getState()
            .change(locked ? `Unlock ${group ?? name}` : `Lock ${group ?? name}`, { plates: all({ locked: !locked }) });
        }}
      >
        {locked ? 'Unlock' : 'Lock'}
      </Button>
      <Dropdown menu={{ items, triggerSubMenuAction: 'click' }} trigger={['click']} placement="bottomRight">
        <Button type="link" size="small" aria-haspopup="menu">
          More
        </Button>
      </Dropdown>
      <Modal
        title={`A group with ${name} in it`}
        open={grouping !== undefined}
        okText="Group"
        okButtonProps={{ disabled: (grouping ?? '').trim() === '' }}
        onCancel={() => {
          setGrouping(undefined);
        }}
        onOk={() => {
          join((grouping ?? '').trim());
          setGrouping(undefined);
        }}
        width={360}
        destroyOnHidden
      >
        <p className="ct-hint">Plates of one group move in depth, hide and lock together.</p>
        <Input
          autoFocus
          maxLength={60}
          value={grouping}
          aria-label="Name of the group"
          onChange={(e) => {
            setGrouping(e.target.value);
          }}
        />
      </Modal>
      <Modal
        title={`Remove ${name}?`}
        open={removing}
        okText="Remove"
        cancelText="Keep"
        onCancel={() => {
          setRemoving(false);
        }}
        onOk={() => {
          setRemoving(false);
          store.getState().removePlate(id);
        }}
        width={360}
        destroyOnHidden
      >
        <p className="ct-hint">Undo brings it back.</p>
      </Modal>
    </>
  );
}
