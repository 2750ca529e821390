'use client';

import { Button, Popover } from 'antd';
import { useRoom, useRoomStore } from './context';

/**
 * Changes that could not be made, by name and with why; each can be copied before it is dismissed. Nothing while there
 * are none.
 */
export function Refused() {
  const store = useRoomStore();
  const refused = useRoom((s) => s.refused);
  if (refused.length === 0) return null;
  const copy = (says: string): void => {
    navigator.clipboard.writeText(says).then(
      () => {
        store.getState().notify('info', 'Copied.');
      },
      () => {
        store.getState().notify('error', 'The browser does not let this page copy. Try again after a click into it.');
      },
    );
  };
  const list = (
    <ul className="ct-refused" aria-label="Changes that could not be stored">
      {refused.map(({ id, label, why, says }) => (
        <li key={id}>
          <b>{label}</b>
          <span>{why}</span>
          <Button
            size="small"
            onClick={() => {
              copy(says);
            }}
          >
            Copy it
          </Button>
          <Button
            size="small"
            type="text"
            onClick={() => {
              store.getState().dismiss(id);
            }}
          >
            Dismiss
          </Button>
        </li>
      ))}
    </ul>
  );
  return (
    <Popover content={list} trigger="click" placement="bottomRight">
      <Button size="small" danger>
        {refused.length} not stored
      </Button>
    </Popover>
  );
}
