'use client';

import { Segmented } from 'antd';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly label: string }[];
  onChange(value: T): void;
}

/** Its class, by how many words share the line. */
function classOf(options: number): string {
  if (options > 5) return 'ct-choice ct-choice-many';
  return options > 3 ? 'ct-choice ct-choice-four' : 'ct-choice';
}

/** One of a few, as words side by side, with its label above. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <div className={classOf(options.length)}>
      <span className="ct-label">{label}</span>
      <Segmented<T>
        block
        value={value}
        options={options as { value: T; label: string }[]}
        onChange={onChange}
        aria-label={label}
      />
    </div>
  );
}
