'use client';

import { Button } from 'antd';
import { overscanFor, type Finding } from '@/core/move/guard/findings';
import { handedSize, type CameraKey } from '@/core/shot/document';
import { fitIntoComfort } from '@/core/stereo/units';
import { figure } from '../../numbers';
import { plateOf } from './found';
import { useMove, useMoveStore } from './slice';

/** What helps against a finding, a click each. */
export function Cures({ finding, all }: { finding: Finding; all: readonly Finding[] }) {
  return (
    <div>
      {useCures(finding, all).map(([word, act]) => (
        <Button key={word} type="link" size="small" onClick={act}>
          {word}
        </Button>
      ))}
    </div>
  );
}

type Cure = readonly [word: string, act: () => void];

function useCures(finding: Finding, all: readonly Finding[]): readonly Cure[] {
  const store = useMoveStore();
  const document = useMove((s) => s.document);
  const across = handedSize(document);
  const s = store.getState();
  const changeKeys = (label: string, change: (key: CameraKey) => CameraKey): void => {
    const { move } = store.getState().document;
    if (!move) return;
    s.tryMove({ keys: move.keys.map(change) });
    s.keep(label);
  };
  switch (finding.kind) {
    case 'dry': {
      const overscan = overscanFor(all, across);
      return [
        [
          `Overscan ${figure((overscan - 1) * 100, 1)} %`,
          () => {
            changeKeys('Overscan', (key) => ({ ...key, value: { ...key.value, zoom: key.value.zoom * overscan } }));
          },
        ],
        ...(['mirror', 'texture'] as const).map((method): Cure => [
          method === 'mirror' ? 'Mirror' : 'Texture',
          () => {
            void s.extendBorder({ ...borderFor(all), method, seed: 1 });
          },
        ]),
      ];
    }
    case 'open':
      return [
        [
          'Fill it',
          () => {
            s.set({ active: plateOf(finding, document).id });
            s.goFor('open');
          },
        ],
      ];
    case 'torn':
    case 'stretched':
      return [
        [
          'Cut a plate there',
          () => {
            s.goFor('torn');
          },
        ],
      ];
    case 'comfort': {
      const fit: Cure = [
        'Fit the budget',
        () => {
          s.change('Fit into comfort', { budget: fitIntoComfort(document.budget, across.width, document.viewing) });
        },
      ];
      if (document.camera.base === 'follows') return [fit];
      const follow = (): void => {
        s.change('The base follows', { camera: { base: 'follows' } });
      };
      return [['Keep the budget', follow], fit];
    }
    case 'judder':
    case 'jump':
      return [
        [
          'Soft eases',
          () => {
            changeKeys('Soft eases', (key) => ({ ...key, ease: 'gentle' }));
          },
        ],
      ];
  }
}

/** A little more canvas than runs dry, at each side that does. */
function borderFor(all: readonly Finding[]) {
  const most = (side: string): number =>
    Math.max(0, ...all.filter((f) => f.side === side).map(({ px }) => Math.ceil(px * 1.1) + 4));
  return { left: most('left'), right: most('right'), top: most('top'), bottom: most('bottom') };
}
