# Places of a coarse table by a general global optimiser: scipy's differential evolution over the places, the values of the
# cells by weighted least squares at each of them, lean counting more. Prints the least cost of each surface, %.
import json
import sys
import time

import numpy as np
from scipy.optimize import differential_evolution

o = json.loads(open(sys.argv[1]).read())
seconds = float(sys.argv[2])
N, M = o["rpmPoints"], o["loadPoints"]


def hats(places, at):
    """How much each place tells of each position, flat beyond the outer ones."""
    return np.stack([np.interp(at, places, row) for row in np.eye(len(places))], axis=1)


def between(points, steps):
    inner = [a + (b - a) * k / steps for a, b in zip(points[:-1], points[1:]) for k in range(steps)]
    return np.array(inner + [points[-1]])


def surface(pct, rpm, load, steps):
    x, y = between(rpm, steps), between(load, steps)
    # Straight between breakpoints, places between them in equal numbers.
    return x, y, 1 + (hats(np.array(load), y) @ np.array(pct) @ hats(np.array(rpm), x).T) / 100


def fit(x, y, wanted, lean, rpm, load, tight):
    A = (hats(load, y)[:, None, :, None] * hats(rpm, x)[None, :, None, :]).reshape(wanted.size, -1)
    v = np.full(A.shape[1], wanted.mean())
    cost = np.inf
    for _ in range(12 if tight else 4):
        g = A @ v
        r = wanted / g - 1
        m = np.where(r > 0, lean, 1.0)
        now = float(np.mean(m * r * r))
        if cost - now < (1e-9 if tight else 1e-4) * now:
            cost = min(cost, now)
            break
        cost = now
        s = m * (wanted / g / g) ** 2
        H = A.T @ (A * s[:, None]) + 1e-10 * np.eye(A.shape[1])
        v = v + np.linalg.solve(H, A.T @ (m * r * wanted / g / g))
    return cost


def best(pct, rpm, load):
    ends = time.time() + seconds
    rough, whole = surface(pct, rpm, load, 2), surface(pct, rpm, load, 4)

    def lean(s):
        return np.where(s[1] >= 70, 4.0, 2.0)[:, None].repeat(len(s[0]), 1).ravel()

    lean_of = {id(rough): lean(rough), id(whole): lean(whole)}

    def places(z):
        r = np.unique(np.round(z[:N] / o["rpmStep"]) * o["rpmStep"])
        l = np.unique(np.round(z[N:] / o["loadStep"]) * o["loadStep"])
        return (r, l) if len(r) == N and len(l) == M else None

    def cost(z, s, tight=False):
        p = places(z)
        if p is None:
            return 1.0
        return fit(s[0], s[1], s[2].ravel(), lean_of[id(s)], p[0], p[1], tight)

    bounds = [(rpm[0], rpm[-1])] * N + [(load[0], load[-1])] * M
    found = differential_evolution(
        lambda z: cost(z, rough),
        bounds,
        seed=1,
        maxiter=100000,
        popsize=10,
        tol=0,
        polish=False,
        callback=lambda *_, **__: time.time() > ends,
    )
    return 100 * np.sqrt(cost(found.x, whole, True)), [p.tolist() for p in places(found.x)]


print(json.dumps([dict(zip(("costPct", "places"), best(s["pct"], s["rpm"], s["load"]))) for s in o["surfaces"]]))
