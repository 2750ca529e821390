#!/usr/bin/env python3
"""Ray traces a window of the orangery sixteen times as fine along its rows, and writes what the right eye truly uncovers there.

usage: fine_truth.py FOLDER-WITH-orangery.pov-AND-world.inc OUT   (needs povray 3.7 and OpenCV)

Window: columns 350 to 750, rows 420 to 660 of the 1600 x 1000 picture; depth16 = 65535 * Z_white / Z; 26.25 px from the centre to
one eye at white. Written: depth16_fine (the tree and what belongs to it, 0 elsewhere), depth16_clean_fine (without them),
fg_hard_fine (their coverage), reveal_right_fine: 255 where a hidden pixel is seen by the right eye (its depth test: nothing nearer
by more than a quarter of a source pixel of parallax), 128 where what covers it in the right eye is itself not to be seen in the
source, so that no plate cut from the source can know it; 0 elsewhere.
"""
import subprocess, sys
import cv2, numpy as np
scene, out = sys.argv[1:3]
F, X0, X1, Y0, Y1, K = 16, 350, 750, 420, 660, 26.25

def trace(name, x0, *declared):
    subprocess.run(['povray', '+Iorangery.pov', f'+O{name}.png', '+FN16', 'File_Gamma=1.0', f'+W{1600 * F}', '+H1000', '-D', '-A', f'+SC{x0 * F + 1}', f'+EC{X1 * F}', f'+SR{Y0 + 1}', f'+ER{Y1}', *('Declare=' + d for d in declared)], cwd=scene, check=True, capture_output=True)
    return cv2.imread(f'{scene}/{name}.png', -1)[Y0:Y1, :, 0].astype(np.int64)

window = slice(X0 * F, X1 * F)
depth = trace('fine_depth', X0, 'Mode=1')[:, window]
clean = trace('fine_clean', X0, 'Mode=1', 'Hide=1')[:, window]
fg = trace('fine_fg', X0, 'Mode=2')[:, window] > 32767
right = trace('fine_right', X0 - 30, 'Mode=1', 'EyeX=0.0525')

px = lambda value: value / 65535 * K * F
shift = px(clean)
lands = np.rint(np.arange(depth.shape[1])[None, :] + X0 * F - shift).astype(int)
inside = (lands >= (X0 - 30) * F) & (lands < X1 * F)
there = px(np.take_along_axis(right, np.clip(lands, 0, right.shape[1] - 1), 1))
seen = fg & inside & (there - shift < 0.25 * F)
back = np.rint(lands + there).astype(int) - X0 * F
known = (back >= 0) & (back < depth.shape[1]) & (np.abs(px(np.take_along_axis(depth, np.clip(back, 0, depth.shape[1] - 1), 1)) - there) < 0.25 * F)
truth = np.where(seen, 255, np.where(fg & inside & ~known, 128, 0)).astype(np.uint8)
for name, data in (('depth16_fine', np.where(fg, depth, 0).astype(np.uint16)), ('depth16_clean_fine', clean.astype(np.uint16)), ('fg_hard_fine', fg.astype(np.uint8) * 255), ('reveal_right_fine', truth)):
    cv2.imwrite(f'{out}/{name}.png', data, [cv2.IMWRITE_PNG_COMPRESSION, 9])
