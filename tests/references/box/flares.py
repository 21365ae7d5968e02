"""
End correction of an open tube whose end is rounded by a quarter circle into a wall: the ideal flow out of
it, as a grid of finite volumes of Laplace's equation in cylinder coordinates (numpy, scipy). Lengths in
radii of the tube; the flare is part of the tube's length. R = 0 is the open tube in a wall, 0.8217
(Nomura, Yamamura and Inawashiro 1960), against which the grid is set.

Writes flares.csv beside it: python3 flares.py
"""
import os
import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as spl

HERE = os.path.dirname(os.path.abspath(__file__))
EXACT = 0.8217
TUBE, REACH = 3.0, 9.0


def correction(R, h):
    # Cells in the tube z < 0 and before the wall z > 0.
    z = np.arange(-TUBE + h / 2, REACH, h)
    r = np.arange(h / 2, REACH, h)
    Z, Q = np.meshgrid(z, r, indexing='ij')
    x = np.clip(Z + R, 0, R)
    wall = np.where(Z < -R, 1.0, 1 + R - np.sqrt(R * R - x * x))
    air = np.where(Z > 0, np.hypot(Z, Q) < REACH, Q < wall)
    index = -np.ones(air.shape, int)
    index[air] = np.arange(air.sum())
    n = air.sum()
    rows, cols, vals = [], [], []
    diag = np.zeros(n)
    b = np.zeros(n)

    def join(i, j, g):
        rows.extend([i, j]); cols.extend([j, i]); vals.extend([-g, -g])
        np.add.at(diag, i, g); np.add.at(diag, j, g)

    for dz, dr in ((1, 0), (0, 1)):
        a = index[: air.shape[0] - dz, : air.shape[1] - dr]
        c = index[dz:, dr:]
        ok = (a >= 0) & (c >= 0)
        radius = Q[: air.shape[0] - dz, : air.shape[1] - dr][ok] + (h / 2 if dr else 0)
        join(a[ok], c[ok], 2 * np.pi * radius)
    # Potential 1 at the tube's inner end, that of a point source far away at the outer one.
    inner = index[0][index[0] >= 0]
    g = 2 * np.pi * r[: len(inner)] * 2
    diag[inner] += g; b[inner] += g
    shell = air & (Z > 0) & (np.hypot(Z, Q) > REACH - 1.5 * h)
    far = index[shell]
    # Beyond the shell the flow is that of a point: flow = potential · area / distance.
    share = Q[shell] / Q[shell].sum() * 2 * np.pi * REACH
    np.add.at(diag, far, share)
    A = sp.coo_matrix((np.concatenate([np.concatenate([np.ravel(v) for v in vals]), diag]),
                       (np.concatenate([np.concatenate([np.ravel(v) for v in rows]), np.arange(n)]),
                        np.concatenate([np.concatenate([np.ravel(v) for v in cols]), np.arange(n)]))), shape=(n, n)).tocsc()
    phi = spl.spsolve(A, b)
    flow = (g * (1 - phi[inner])).sum()
    # The whole resistance over area pi: length of tube, flare, air and what is beyond the shell.
    return np.pi / flow - TUBE


if __name__ == '__main__':
    h = 1 / 24
    base = correction(0.0, h)
    with open(os.path.join(HERE, 'flares.csv'), 'w') as out:
        out.write('flare_over_radius,end_correction_over_radius\n')
        for R in (0.0, 0.143, 0.286, 0.429, 0.571, 0.714, 0.857):
            value = correction(R, h) - base + EXACT
            print(R, correction(R, h), value, flush=True)
            out.write(f'{R},{value:.4f}\n')
