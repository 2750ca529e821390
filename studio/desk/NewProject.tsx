'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';

/** The name of a new project, and its beginning. */
export function NewProject({ onName }: { onName(name: string): Promise<void> }) {
  const [name, setName] = useState('');
  const begin = (): void => {
    if (name.trim() !== '')
      void onName(name.trim()).then(() => {
        setName('');
      });
  };
  return (
    <>
      <Input
        value={name}
        maxLength={120}
        placeholder="Name of the project"
        aria-label="Name of the project"
        onChange={(e) => {
          setName(e.target.value);
        }}
        onPressEnter={begin}
      />
      <Button type="primary" block disabled={name.trim() === ''} onClick={begin}>
        Begin project
      </Button>
    </>
  );
}
