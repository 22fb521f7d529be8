"""Weights of sampled poses by numpy, written apart from our code: prints what rbfPoses.test.ts expects.

Lewis, Cordner & Fong 2000, "Pose space deformation": a radial basis function at each sampled pose, the coefficients by
numpy.linalg.solve. A pose is where the bone points and, by a share, where two directions square to it point; negative
weights are left out, all are brought to a sum of 1. Run with Debian's python3-numpy.
"""
import json
import numpy as np

ALONG = np.array([0.0, 1.0, 0.0])
SIDES = [np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0])]
TWIST_SHARE, RADIUS = 0.5, 2 * np.sin(np.radians(60) / 2)


def turned(axis, degrees):
    """Rotation matrix by Rodrigues' formula."""
    x, y, z = np.array(axis) / np.linalg.norm(axis)
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    t = np.radians(degrees)
    return np.eye(3) + np.sin(t) * k + (1 - np.cos(t)) * k @ k


def place(rotation):
    return np.concatenate([rotation @ ALONG] + [TWIST_SHARE * np.sqrt(0.5) * (rotation @ s) for s in SIDES])


KERNELS = {
    "gaussian": lambda d: np.exp(-((d / RADIUS) ** 2)),
    "compact": lambda d: np.where(d >= RADIUS, 0, (1 - d / RADIUS) ** 4 * (1 + 4 * d / RADIUS)),
    "linear": lambda d: d,
}
SAMPLES = [([1, 0, 0], 90), ([0, 0, 1], -70), ([1, 0, 1], 50), ([0, 1, 0], 60)]
ASKED = [([1, 0, 0], 45), ([1, 0, 0.4], 70), ([0, 1, 0], 25), ([0.3, 0.2, -1], 60), ([1, 1, 1], 33)]

places = np.array([place(np.eye(3))] + [place(turned(*s)) for s in SAMPLES])
apart = np.linalg.norm(places[:, None] - places[None], axis=2)
out = {}
for name, kernel in KERNELS.items():
    rows = []
    for asked in ASKED:
        here = kernel(np.linalg.norm(places - place(turned(*asked)), axis=1))
        weights = np.clip(np.linalg.solve(kernel(apart), here), 0, None)
        rows.append([round(float(w), 6) for w in weights / weights.sum()])
    out[name] = rows
print(json.dumps(out))
