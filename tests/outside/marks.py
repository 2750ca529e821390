# Other ways from marks to a depth map, by OpenCV: mean and edge error (within 6 px of a step of 3 %) in % of full scale.
# nearest: each px takes its nearest mark; delaunay: planes over triangles between the marks' places; smoother: fast global
# smoother, depth of the marks over the marks, several strengths; guided: guided filter over nearest, several strengths.
import cv2, numpy as np, json, sys
def smoothed(img, on, v, nearest, score):
    best = None
    for lam, sig, n in ((1e3, 6, 3), (1e4, 6, 3), (1e5, 6, 3), (1e5, 12, 3)):
        f = cv2.ximgproc.createFastGlobalSmootherFilter(img, lam, sig, 0.25, n)
        a = f.filter((on * v).astype(np.float32)); b = f.filter(on.astype(np.float32))
        s = score(np.where(b > 1e-9, a / np.maximum(b, 1e-9), nearest)); best = s if best is None or s[0] < best[0] else best
    return best
def run(picture, truth, marks, grey):
    img = cv2.imread(picture)
    if grey: img = cv2.cvtColor(cv2.cvtColor(img, cv2.COLOR_BGR2GRAY), cv2.COLOR_GRAY2BGR)
    t = cv2.imread(truth, -1); t = t[..., 0] if t.ndim == 3 else t
    known = t > 0 if t.dtype == np.uint8 else np.ones(t.shape, bool)
    t = t.astype(np.float64) / (255 if t.dtype == np.uint8 else 65535)
    m = cv2.imread(marks, -1); h, w = t.shape
    on = m[..., 3] > 32768; v = m[..., 0] / 65535.0
    edge = np.zeros((h, w), np.uint8)
    for a, b in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
        step = (np.abs(t[a] - t[b]) > .03) & known[a] & known[b]
        edge[a] |= step; edge[b] |= step
    band = cv2.dilate(edge, np.ones((13, 13), np.uint8)) > 0
    def score(d): e = np.abs(np.clip(d, 0, 1) - t) * 100; return [round(float(e[known].mean()), 3), round(float(e[known & band].mean()), 3)]
    _, labels = cv2.distanceTransformWithLabels((~on).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(labels.max() + 1); table[labels[on]] = v[on]; nearest = table[labels]
    out = {'nearest': score(nearest)}
    if grey: out['smoother'] = smoothed(img, on, v, nearest, score); return out
    # Delaunay over places 9 px apart on the marks, and the picture's corners with their nearest mark.
    ys, xs = np.nonzero(on); pts = {}
    for x, y in zip(xs, ys): pts.setdefault((x // 9, y // 9), (int(x), int(y)))
    pts = list(pts.values()) + [(0, 0), (w - 1, 0), (0, h - 1), (w - 1, h - 1)]
    sub = cv2.Subdiv2D((0, 0, w, h))
    for p in pts: sub.insert((float(p[0]), float(p[1])))
    d = nearest.copy()
    for x0, y0, x1, y1, x2, y2 in sub.getTriangleList():
        tri = np.array([[x0, y0], [x1, y1], [x2, y2]])
        if (tri < 0).any() or (tri[:, 0] > w - 1).any() or (tri[:, 1] > h - 1).any(): continue
        try: c = np.linalg.solve(np.c_[tri, np.ones(3)], [nearest[int(y), int(x)] for x, y in tri])
        except np.linalg.LinAlgError: continue
        x, y, bw, bh = cv2.boundingRect(np.round(tri).astype(np.int32)); mask = np.zeros((bh, bw), np.uint8)
        cv2.fillConvexPoly(mask, np.round(tri).astype(np.int32) - [x, y], 1)
        yy, xx = np.nonzero(mask); yy += y; xx += x; d[yy, xx] = c[0] * xx + c[1] * yy + c[2]
    out['delaunay'] = score(d)
    out['smoother'] = smoothed(img, on, v, nearest, score)
    best = None
    for r, eps in ((40, 65), (80, 65)):
        s = score(cv2.ximgproc.guidedFilter(img, nearest.astype(np.float32), r, eps)); best = s if best is None or s[0] < best[0] else best
    out['guided'] = best
    return out
for job in sys.argv[1:]:
    picture, truth, marks, how = job.split('|')
    print(json.dumps(run(picture, truth, marks, how == 'grey')), flush=True)
