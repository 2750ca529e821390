# Scores frames of the demo clip seen from frame 1 against what was ray traced: ours, and two peers.
# sort: pixels drawn from far to near at whole places (OpenCV fills the rest); shift: one scale and shift for all.
import cv2, numpy as np, json, sys
clip, out = sys.argv[1:3]
t = json.load(open(clip + '/truth.json')); places = np.array(t['camera_position_per_frame']); F = t['f_px']; px, py = t['principal_point_px']; ZW = t['Z_white']
def grey(name):
    a = cv2.imread(name, -1); return (a[..., 0] if a.ndim == 3 else a) / 65535.0
def db(e): return round(float(10 * np.log10(65025 / e)), 2)
def ssim(a, b):
    a, b = (cv2.cvtColor(v, cv2.COLOR_BGR2GRAY).astype(np.float64) for v in (a, b))
    blur = lambda v: cv2.GaussianBlur(v, (11, 11), 1.5)
    ma, mb = blur(a), blur(b); va, vb, vab = blur(a * a) - ma * ma, blur(b * b) - mb * mb, blur(a * b) - ma * mb
    m = ((2 * ma * mb + 6.5025) * (2 * vab + 58.5225)) / ((ma * ma + mb * mb + 6.5025) * (va + vb + 58.5225))
    return round(float(m.mean()), 4)
S = cv2.imread(clip + '/frame_0001.png'); d1 = grey(clip + '/depth_0001.png'); H, W = d1.shape
xs, ys = np.meshgrid(np.arange(W, dtype=np.float64), np.arange(H, dtype=np.float64))
def landed(C):
    w = d1 / ZW; X = (xs - px) / F - w * C[0]; Y = (ys - py) / F + w * C[1]; Z = 1 - w * C[2]
    return px + F * X / Z, py + F * Y / Z, w / Z
def sort(C):
    u, v, w = landed(C); u, v = np.rint(u).astype(int).ravel(), np.rint(v).astype(int).ravel()
    ok = (u >= 0) & (u < W) & (v >= 0) & (v < H); order = np.argsort(w.ravel()[ok], kind='stable')
    img = np.zeros_like(S); hole = np.full((H, W), 255, np.uint8)
    img[v[ok][order], u[ok][order]] = S.reshape(-1, 3)[ok][order]; hole[v[ok], u[ok]] = 0
    # In tiles that overlap: OpenCV's queue grows slow with a whole frame's holes.
    filled = img.copy(); T, M = 80, 24
    for y in range(0, H, T):
        for x in range(0, W, T):
            a, b, c, e = max(0, y - M), min(H, y + T + M), max(0, x - M), min(W, x + T + M)
            part = cv2.inpaint(img[a:b, c:e], hole[a:b, c:e], 3, cv2.INPAINT_NS)
            filled[y:y + T, x:x + T] = part[y - a:y - a + T, x - c:x - c + T]
    return filled
def shift(C):
    u, v, _ = landed(C); A = []; B = []
    pick = np.random.default_rng(1).choice(H * W, 20000, replace=False)
    x, y, a, b = xs.ravel()[pick], ys.ravel()[pick], u.ravel()[pick], v.ravel()[pick]
    M = np.zeros((2 * len(x), 3)); M[0::2, 0] = x; M[0::2, 1] = 1; M[1::2, 0] = y; M[1::2, 2] = 1
    r = np.empty(2 * len(x)); r[0::2] = a; r[1::2] = b
    s, tx, ty = np.linalg.lstsq(M, r, rcond=None)[0]
    return cv2.warpAffine(S, np.array([[s, 0, tx], [0, s, ty]]), (W, H), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
result = {}
for n, f in enumerate((12, 24, 36, 48)):
    for eye in (0, 1):
        C = places[f - 1] - places[0] + [eye * t['baseline_left_right'] / 2, 0, 0]
        T = cv2.imread(clip + ('/right_%04d.png' if eye else '/frame_%04d.png') % f)
        if eye:
            # Its own depth does not ship: what is seen is told by the depth that frame 1 shows there, nearest first.
            u, v, w = landed(C); wt = np.zeros((H, W)); ui, vi = np.rint(u).astype(int), np.rint(v).astype(int)
            ok = (ui >= 0) & (ui < W) & (vi >= 0) & (vi < H); np.maximum.at(wt, (vi[ok], ui[ok]), w[ok]); seen = wt > 0
        else:
            w = grey(clip + '/depth_%04d.png' % f) / ZW
            X, Y, Z = (xs - px) / F + w * C[0], (ys - py) / F - w * C[1], 1 + w * C[2]
            u, v, ws = px + F * X / Z, py + F * Y / Z, w / Z
            ds = cv2.remap(d1.astype(np.float32), u.astype(np.float32), v.astype(np.float32), cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT, borderValue=-1) / ZW
            seen = (np.abs(ds - ws) < np.maximum(0.02 * ws, 0.002 / ZW)) & (u >= 0) & (u <= W - 1) & (v >= 0) & (v <= H - 1)
        row = {}
        for name, V in (('ours', cv2.imread('%s/frame_%04d.png' % (out, 2 * n + eye + 1))), ('sort', sort(C)), ('shift', shift(C))):
            e = ((T.astype(np.float64) - V) ** 2).mean(2)
            row[name] = {'seen': db(e[seen].mean()), 'all': db(e.mean()), 'ssim': ssim(T, V)}
        result['%d%s' % (f, ' right' if eye else '')] = row
print(json.dumps(result))
