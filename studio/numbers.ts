/** A number as the room writes it: true minus sign, thin space between thousands from five digits on, the given decimals. */
export function figure(value: number, decimals = 0): string {
  if (!Number.isFinite(value)) return '∞';
  const [whole, part] = Math.abs(value).toFixed(decimals).split('.');
  const sign = value < 0 && Number(Math.abs(value).toFixed(decimals)) !== 0 ? '−' : '';
  return (
    sign + (whole.length > 4 ? whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009') : whole) + (part ? `.${part}` : '')
  );
}

/** The same with its sign always written. */
export function signed(value: number, decimals = 0): string {
  const text = figure(value, decimals);
  return text.startsWith('−') || Number(value.toFixed(decimals)) === 0 ? text : `+${text}`;
}

export function bytes(value: number): string {
  if (value < 1e6) return `${figure(value / 1e3, value < 1e4 ? 1 : 0)} KB`;
  return value < 1e9 ? `${figure(value / 1e6, 1)} MB` : `${figure(value / 1e9, 2)} GB`;
}

/** A moment as people say it: the time today, else the day. */
export function moment(iso: string, now = new Date()): string {
  const then = new Date(iso);
  const time = `${String(then.getHours()).padStart(2, '0')}:${String(then.getMinutes()).padStart(2, '0')}`;
  if (then.toDateString() === now.toDateString()) return time;
  return `${then.getDate()} ${then.toLocaleString('en', { month: 'long' })}`;
}
