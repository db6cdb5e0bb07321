# The same robust solve as core/src/field/solve.ts in numpy and scipy.sparse: Huber rounds, then Tukey's biweight.
import json
import sys
import time

import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as spl

raw = np.fromfile(sys.argv[1], dtype="<f4").astype(np.float64)
o = json.loads(sys.argv[2])
n = raw.size // 3
rpm, load, y = raw[:n], raw[n : 2 * n], raw[2 * n :]
R, L = np.array(o["rpm"], float), np.array(o["load"], float)


def locate(points, v):
    k = np.clip(np.searchsorted(points, v, side="right") - 1, 0, points.size - 2)
    return k, np.clip((v - points[k]) / (points[k + 1] - points[k]), 0, 1)


def second(points):
    d = np.diff(points)
    rows = []
    for k in range(1, points.size - 1):
        m = (d[k - 1] + d[k]) / 2
        rows.append((k, m / d[k - 1], -(m / d[k - 1] + m / d[k]), m / d[k]))
    return rows


start = time.perf_counter()
c, u = locate(R, rpm)
r, v = locate(L, load)
nl = L.size
size = R.size * nl
cols = np.stack([c * nl + r, c * nl + r + 1, (c + 1) * nl + r, (c + 1) * nl + r + 1], 1)
data = np.stack([(1 - u) * (1 - v), (1 - u) * v, u * (1 - v), u * v], 1)
B = sp.csr_matrix((data.ravel(), cols.ravel(), np.arange(0, 4 * n + 1, 4)), shape=(n, size))
BT = B.T.tocsr()
rows_r, rows_l = [], []
for row in range(nl):
    for k, a, b, d in second(R):
        e = np.zeros(size)
        e[(k - 1) * nl + row], e[k * nl + row], e[(k + 1) * nl + row] = a, b, d
        rows_r.append(e)
for col in range(R.size):
    for k, a, b, d in second(L):
        e = np.zeros(size)
        e[col * nl + k - 1], e[col * nl + k], e[col * nl + k + 1] = a, b, d
        rows_l.append(e)
DR, DL = sp.csr_matrix(np.array(rows_r)), sp.csr_matrix(np.array(rows_l))
PR, PL, I = (DR.T @ DR).tocsc(), (DL.T @ DL).tocsc(), sp.identity(size, format="csc")
w = np.ones(n)
x = np.zeros(size)
rounds = 1 + o["startRounds"] + o["endRounds"]
for k in range(rounds):
    A = (BT @ B.multiply(w[:, None])).tocsc()
    diag = A.diagonal()
    unit = diag[diag > 0].mean()
    A = A + unit * (o["alpha"] * PR + o["beta"] * PL + o["epsilon"] * I)
    nxt = spl.spsolve(A, BT @ (w * y))
    moved = np.abs(nxt - x).max()
    x = nxt
    res = y - B @ x
    if k <= o["startRounds"]:
        scale = max(4e-3, 1.4826 * np.median(np.abs(res)))
    if k == rounds - 1 or (k > o["startRounds"] and moved < 2e-5):
        break
    if k >= o["startRounds"]:
        q = res / (4.685 * scale)
        w = np.where(np.abs(q) < 1, (1 - q * q) ** 2, 0)
    else:
        w = np.minimum(1, 0.6 * scale / np.maximum(np.abs(res), 1e-12))
print(json.dumps({"ms": 1000 * (time.perf_counter() - start), "x": x.tolist()}))
