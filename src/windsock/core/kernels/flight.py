"""Free flight with linear drag, a whirl and a floor: bounces are solved once, then any moment is a lookup.

In flight v' = a - d v + w n x v, with pull a, drag d and whirl w about the floor's normal n. Along n that is the textbook
projectile with linear drag; across it, as a complex number, v' = a + c v with c = -d + i w; both in closed form. A bounce
turns the speed along n round and takes restitution e of it, friction takes its share of the speed across. When a hop would
be shorter than a tick, the body has come down. Then it slides under the pull along the floor and Coulomb's friction: on a
slope it rests where the tangent of the slope is at most the friction. Where the direction of sliding turns, it is taken in
legs over which friction acts along the mean direction.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, loop, parallel

Reals = NDArray[np.float64]

COLUMNS = 12
"""Of a leg: its start in seconds since the release; height, speed upward; two places and two speeds across; angle, rate of
turning; whether it is down; and, of one that is down, the two places across where it came down. Of one that is down, what
it is drawn along the floor by stands in place of height and speed upward."""

MOST_LEGS = 400
SHORTEST_HOP = 1 / 120
SPIN_LOSS = 8.0
"""A body that is down loses its spin at this rate (1/s) times its friction."""

TURNING = 0.06
"""Radians by which the direction of sliding turns in a leg, about."""

SHORTEST_SLIDE = 1 / 1000


class Flight(NamedTuple):
    """What bodies fly under. up: pull along the floor's normal, across: along two directions at right angles to it, m/s²;
    drag: 1/s; whirl: radians/s; bounce, friction: 0..1 at each touch; floor: whether there is one."""

    up: float
    across: tuple[float, float]
    drag: float
    whirl: float
    bounce: float
    friction: float
    floor: bool


def legs(
    height: Reals, rising: Reals, across: Reals, moving: Reals, turning: Reals, lasts: Reals, flight: Flight
) -> tuple[NDArray[np.int64], Reals]:
    """Every leg of every body, from one touch of the floor to the next.

    height, rising: (k,) metres over the floor (the body's radius taken off) and m/s; across, moving: (k, 2); turning: (k,)
    radians/s; lasts: (k,) seconds that are to be answered for. Answers with (k + 1,) where each body's legs begin, and
    (legs, COLUMNS).
    """
    return _legs(height, rising, across, moving, turning, lasts, *_numbers(flight))


def states(starts: NDArray[np.int64], rows: Reals, since: Reals, flight: Flight) -> Reals:
    """(k, 6) height, two places across, angle, and how far it has slid along both, of each body, `since` (k,) seconds after
    its release; for `legs`."""
    made = np.zeros((len(since), 6))
    _states(starts, rows, since, *_numbers(flight), made)
    return made


def _numbers(flight: Flight):
    first, second = flight.across
    return (
        flight.up,
        complex(first, second),
        flight.drag,
        flight.whirl,
        flight.bounce,
        flight.friction,
        flight.floor,
    )


@compiled
def _rise(height: float, rising: float, up: float, drag: float, time: float):  # pragma: no cover - compiled
    """Height and speed upward after a time."""
    if drag * time < 1e-7:
        return height + rising * time + 0.5 * up * time * time, rising + up * time
    ends = up / drag
    left = np.exp(-drag * time)
    return height + ends * time + (rising - ends) * (1 - left) / drag, ends + (rising - ends) * left


@compiled
def _drift(place: complex, moving: complex, pull: complex, rate: complex, time: float):  # pragma: no cover - compiled
    """Place and speed across, as complex numbers, after a time, where v' = pull + rate v."""
    if abs(rate) * time < 1e-7:
        return place + moving * time + 0.5 * pull * time * time, moving + pull * time
    grown = np.exp(rate * time)
    steady = pull / rate
    return place + (moving + steady) * (grown - 1) / rate - steady * time, (moving + steady) * grown - steady


@compiled
def _touch(height: float, rising: float, up: float, drag: float, lasts: float):  # pragma: no cover - compiled
    """The first time after the start at which the height is 0, or -1 where it stays above for as long as it `lasts`.

    The height has one turning point at most: it is looked for on either side of that, by Newton's steps kept between two
    ends that have it on either side.
    """
    turn = lasts
    if drag * lasts < 1e-7:
        if up != 0 and 0 < -rising / up < lasts:
            turn = -rising / up
    else:
        ends = up / drag
        if (rising - ends) != 0 and 0 < -ends / (rising - ends) < 1:
            turn = min(lasts, -np.log(-ends / (rising - ends)) / drag)
    low = 0.0
    for part in range(2):
        high = turn if part == 0 else lasts
        at_high, _ = _rise(height, rising, up, drag, high)
        if at_high < 0:
            return _between(height, rising, up, drag, low, high)
        low = high
    return -1.0


@compiled
def _between(
    height: float, rising: float, up: float, drag: float, low: float, high: float
):  # pragma: no cover - compiled
    guess = 0.5 * (low + high)
    for _ in range(80):
        at, slope = _rise(height, rising, up, drag, guess)
        if at > 0:
            low = guess
        else:
            high = guess
        after = guess - at / slope if slope != 0 else low
        if not low < after < high:
            after = 0.5 * (low + high)
        if abs(after - guess) < 1e-13 * max(1.0, high):
            break
        guess = after
    return guess


@compiled
def _legs(
    height: NDArray[np.float64],
    rising: NDArray[np.float64],
    across: NDArray[np.float64],
    moving: NDArray[np.number],
    turning: NDArray[np.float64],
    lasts: NDArray[np.float64],
    up: float,
    pull: complex,
    drag: float,
    whirl: float,
    bounce: float,
    friction: float,
    floor: bool,
):  # pragma: no cover
    count = len(height)
    starts = np.zeros(count + 1, np.int64)
    room = max(16, 4 * count)
    rows = np.empty((room, COLUMNS))
    total = 0
    rate = complex(-drag, whirl)
    for k in range(count):
        begun, h, v = 0.0, height[k], rising[k]
        z, s = complex(across[k, 0], across[k, 1]), complex(moving[k, 0], moving[k, 1])
        angle, turns = 0.0, turning[k]
        down = False
        for leg in range(MOST_LEGS):
            if total == room:
                room *= 2
                more = np.empty((room, COLUMNS))
                more[:total] = rows
                rows = more
            row = rows[total]
            row[0], row[1], row[2], row[3], row[4] = begun, h, v, z.real, z.imag
            row[5], row[6], row[7], row[8], row[9] = s.real, s.imag, angle, turns, 0.0
            row[10], row[11] = z.real, z.imag
            left = lasts[k] - begun
            if down:
                # The leg that begins when it is down is told by the slide.
                rows, total, room = _slide(
                    rows, total, room, begun, z, s, angle, turns, left, -up, pull, rate, friction
                )
                break
            total += 1
            if not floor or left <= 0:
                break
            hop = _touch(h, v, up, drag, left)
            if h <= 0 and v <= 0 and up < 0:
                hop = 0.0
            if hop < 0:
                break
            _, v = _rise(h, v, up, drag, hop)
            z, s = _drift(z, s, pull, rate, hop)
            angle += turns * _kept(drag, hop)
            turns = turns * np.exp(-drag * hop) * (1 - friction)
            s = s * (1 - friction)
            begun, h, v = begun + hop, 0.0, -v * bounce
            down = up < 0 and (2 * v / -up < SHORTEST_HOP or leg + 2 == MOST_LEGS)
            if down:
                v = 0.0
        starts[k + 1] = total
    return starts, rows[:total].copy()


@compiled
def _slide(
    rows: NDArray[np.float64],
    total: int,
    room: int,
    begun: float,
    z: complex,
    s: complex,
    angle: float,
    turns: float,
    left: float,
    pressed: float,
    pull: complex,
    rate: complex,
    friction: float,
):  # pragma: no cover - compiled
    """Add the legs of a body that is down. pressed: m/s² with which it is held to the floor."""
    down_at, end = z, begun + left
    holds = friction * pressed
    for leg in range(MOST_LEGS):
        if total == room:
            room *= 2
            more = np.empty((room, COLUMNS))
            more[:total] = rows[:total]
            rows = more
        speed, drawn = abs(s), abs(pull)
        resting = speed < 1e-9 and drawn <= holds
        last = resting or leg + 1 == MOST_LEGS or holds == 0
        along = s / speed if speed >= 1e-9 else (pull / drawn if drawn > 0 else complex(0.0, 0.0))
        time = max(end - begun, 0.0)
        net = complex(0.0, 0.0) if resting else pull - holds * along
        if resting:
            s = complex(0.0, 0.0)
        elif not last and speed >= 1e-9:
            turned = (s.conjugate() * (net + rate * s)).imag / (speed * speed)
            time = min(time, max(TURNING / max(abs(turned), 1e-12), SHORTEST_SLIDE))
            _, after = _drift(z, s, net, rate, time)
            while abs((along.conjugate() * after).imag) > 1.5 * TURNING * abs(after) and time > SHORTEST_SLIDE:
                time *= 0.5
                _, after = _drift(z, s, net, rate, time)
            if abs((along.conjugate() * after).imag) > 1e-12 * abs(after):
                mean = along + (after / abs(after) if abs(after) > 1e-9 else along)
                if abs(mean) > 1e-6:
                    along = mean / abs(mean)
                    net = pull - holds * along
        if not resting and holds > 0:
            _, after = _drift(z, s, net, rate, time)
            if (after * along.conjugate()).real <= 0 and speed >= 1e-9:
                time = _standstill(z, s, net, rate, along, time)
                last = False
        row = rows[total]
        row[0], row[1], row[2], row[3], row[4] = begun, net.real, net.imag, z.real, z.imag
        row[5], row[6], row[7], row[8], row[9] = s.real, s.imag, angle, turns, 1.0
        row[10], row[11] = down_at.real, down_at.imag
        total += 1
        if last or begun + time >= end:
            break
        z, s = _drift(z, s, net, rate, time)
        if (s * along.conjugate()).real <= 1e-9 * max(speed, 1e-3):
            s = complex(0.0, 0.0)
        angle += turns * _kept(SPIN_LOSS * friction, time)
        turns = turns * np.exp(-SPIN_LOSS * friction * time)
        begun += time
    return rows, total, room


@compiled
def _standstill(
    z: complex, s: complex, net: complex, rate: complex, along: complex, high: float
):  # pragma: no cover - compiled
    """The time until a body that slides along a direction has no speed left along it; after `high` it has none."""
    low = 0.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        _, speed = _drift(z, s, net, rate, middle)
        if (speed * along.conjugate()).real > 0:
            low = middle
        else:
            high = middle
    return high


@compiled
def _kept(loss: float, time: float):  # pragma: no cover - compiled
    """The integral of e^(-loss t) over a time."""
    return time if loss * time < 1e-7 else (1 - np.exp(-loss * time)) / loss


@parallel
def _states(
    starts: NDArray[np.int64],
    rows: NDArray[np.float64],
    since: NDArray[np.float64],
    up: float,
    pull: complex,
    drag: float,
    whirl: float,
    bounce: float,
    friction: float,
    floor: bool,
    made: NDArray[np.float64],
):  # pragma: no cover - compiled
    rate = complex(-drag, whirl)
    for k in loop(len(since)):
        low, high = starts[k], starts[k + 1] - 1
        while low < high:
            middle = (low + high + 1) // 2
            if rows[middle, 0] <= since[k]:
                low = middle
            else:
                high = middle - 1
        row = rows[low]
        time = max(since[k] - row[0], 0.0)
        z, s = complex(row[3], row[4]), complex(row[5], row[6])
        if row[9] > 0:
            z, _ = _drift(z, s, complex(row[1], row[2]), rate, time)
            made[k, 3] = row[7] + row[8] * _kept(SPIN_LOSS * friction, time)
            made[k, 4], made[k, 5] = z.real - row[10], z.imag - row[11]
        else:
            h, _ = _rise(row[1], row[2], up, drag, time)
            z, _ = _drift(z, s, pull, rate, time)
            made[k, 0] = max(h, 0.0) if floor else h
            made[k, 3] = row[7] + row[8] * _kept(drag, time)
        made[k, 1], made[k, 2] = z.real, z.imag
