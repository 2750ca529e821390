'use client';

import { InputNumber } from 'antd';
import { handedSize } from '@/core/shot/document';
import { comfortPx, inUnit, perceivedDistanceMm } from '@/core/stereo/units';
import { figure, signed } from '../../numbers';
import { useRoom, useRoomStore } from '../../room/context';

/** Where a thing is seen, mm. @param off how far from the screen, before it where negative */
function whereIs(z: number, off: number): string {
  if (Number.isNaN(z)) return 'nowhere: the eyes would look apart';
  if (!Number.isFinite(z)) return 'infinitely far';
  if (Math.abs(off) < 0.5) return 'on the screen';
  return `${figure(Math.abs(off))} mm ${off < 0 ? 'before' : 'behind'} the screen`;
}

/** The budget in every unit. The px can be typed. */
export function BudgetTable() {
  const store = useRoomStore();
  const room = store.getState();
  const { budget, viewing } = useRoom((s) => s.document);
  const across = useRoom((s) => handedSize(s.document).width);
  const comfort = comfortPx(across, viewing);
  const row = (name: string, key: 'nearPx' | 'farPx') => {
    const px = budget[key];
    const keep = (): void => {
      room.keep(`${name} ${store.getState().document.budget[key]} px`);
    };
    const beyond = px < comfort.nearPx - 0.05 || px > comfort.farPx + 0.05;
    const z = perceivedDistanceMm(px, across, viewing);
    const off = z - viewing.distanceMm;
    const where = whereIs(z, off);
    return (
      <tr>
        <th scope="row">{name}</th>
        <td>
          <InputNumber
            size="small"
            aria-label={`${name}, parallax in px`}
            value={px}
            min={-4000}
            max={4000}
            step={0.5}
            precision={1}
            controls={false}
            suffix="px"
            className={beyond ? 'ct-beyond' : ''}
            formatter={(v) => (v === undefined ? '' : signed(Number(v), 1))}
            parser={(t) => Number((t ?? '').replace('−', '-').replace(/[^\d.+-]/g, ''))}
            onChange={(v) => {
              if (v !== null && Number.isFinite(v))
                room.try({ budget: { ...store.getState().document.budget, [key]: v } });
            }}
            onBlur={keep}
            onPressEnter={keep}
          />
        </td>
        <td>
          {signed(inUnit(px, '%', across, viewing), 2)} <span>%</span>
        </td>
        <td>
          {signed(inUnit(px, 'mm', across, viewing), 1)} <span>mm</span>
        </td>
        <td className={beyond ? 'ct-warn' : ''}>
          {signed(inUnit(px, 'arcmin', across, viewing), 1)} <span>arcmin</span>
        </td>
        <td>{where}</td>
      </tr>
    );
  };
  return (
    <table className="ct-table ct-budget">
      <thead>
        <tr>
          <th scope="col">Budget</th>
          <th scope="col">on output, {across} px</th>
          <th scope="col">of width</th>
          <th scope="col">on the screen</th>
          <th scope="col">to the eye</th>
          <th scope="col">seems to be</th>
        </tr>
      </thead>
      <tbody>
        {row('Nearest', 'nearPx')}
        {row('Farthest', 'farPx')}
      </tbody>
    </table>
  );
}
