"""Paint and images on a thing's own surface: where they lie, what turns and grows with it, what is refused."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import map_coordinates
from scipy.spatial.transform import Rotation

from elvatch.core.cover.on_thing import prepare
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Edge, Layer, Look
from elvatch.core.document.rule import OnImage, OnPainted, Rule
from elvatch.core.document.thing import Covering, ImageOnThing, PaintOnThing
from elvatch.core.handoff.baked import AS_DRAWN, Baked, ThingForm, baked
from elvatch.core.refusal import RefusalError
from elvatch.core.rules import mask_image, thing_paint
from elvatch.core.rules.evidence import Evidence
from elvatch.core.rules.thing_paint import Paint, ThingStroke
from elvatch.core.stock import pyramid
from elvatch.core.thing.solid import stretched
from tests.core.test_flat import GREEN, LAND, SHAPES, _area_of_texels, stood

TOP = np.array([0.0, 0.0, 1.0])
"""Of a ball that stands on height 0, in parts of its longest side."""


def beside(east: float, north: float = 0.0) -> np.ndarray:
    return np.asarray(TOP + np.array([east, north, 0.0]))


def stroke(
    *spots: np.ndarray, radius: float = 0.2, soft: float = 0.0, tool: str = "add", **more: object
) -> ThingStroke:
    along = np.array([[*spot, 1.0] for spot in spots])
    told = {"strength": 1.0, "flow": 1.0, "variant": 0} | more
    return ThingStroke(tool=tool, along=along, radius=radius, soft=soft, **told)  # type: ignore[arg-type]


def painted(*strokes: ThingStroke) -> Paint:
    out = thing_paint.nothing()
    for one in strokes:
        out = thing_paint.with_stroke(out, one)
    return out


def at(paint: Paint, *places: np.ndarray, variant: int = 0) -> np.ndarray:
    found = np.array(places, np.float32).reshape(-1, 3)
    return thing_paint.values(paint, found, np.full(len(found), variant, np.int64))


@given(st.floats(0, 0.5), st.floats(0, 1), st.floats(0.1, 1))
def test_a_touch_is_a_ball_that_fades_as_the_brush_on_the_ground_does(
    away: float, soft: float, strength: float
) -> None:
    paint = painted(stroke(TOP, radius=0.3, soft=soft, strength=strength))
    core = 0.3 * (1 - soft)
    t = 1.0 if away <= core else max(0.0, (0.3 - away) / max(0.3 - core, 1e-9))
    expected = strength * t * t * (3 - 2 * t)
    if abs(away - 0.3) > 1e-4 and abs(away - core) > 1e-4:
        assert at(paint, beside(away))[0] == pytest.approx(expected, abs=2e-3)


def test_later_strokes_lie_over_earlier_ones_and_take_away() -> None:
    first, second = stroke(TOP, strength=0.5), stroke(TOP, strength=0.5)
    taken = stroke(TOP, tool="take", strength=0.25)
    assert at(painted(first), TOP)[0] == pytest.approx(0.5)
    assert at(painted(first, second), TOP)[0] == pytest.approx(0.75)
    assert at(painted(first, second, taken), TOP)[0] == pytest.approx(0.75**2)
    assert at(painted(taken, first), TOP)[0] == pytest.approx(0.5)
    # a stroke goes all the way between its spots, however far they are apart
    long = painted(stroke(TOP, beside(1), radius=0.05))
    assert (at(long, *(beside(x) for x in np.linspace(0, 1, 50))) > 0.99).all()
    assert at(long, beside(0.5, 0.06))[0] == 0


def test_another_variant_of_the_thing_has_none_of_it() -> None:
    paint = painted(stroke(TOP, variant=2))
    assert at(paint, TOP, variant=2)[0] == 1
    assert at(paint, TOP)[0] == 0


def test_paint_comes_back_from_its_file_and_anything_else_is_refused() -> None:
    paint = painted(stroke(TOP, beside(0.1), soft=0.5), stroke(TOP, tool="take"))
    again = thing_paint.read("Moss", paint.written())
    assert again.name == paint.name
    np.testing.assert_array_equal(again.strokes, paint.strokes)
    whole = bytearray(paint.written())
    nan = np.frombuffer(bytes(whole), "<f4").copy()
    nan[0] = np.nan
    far, wide = nan.copy(), nan.copy()
    far[0], wide[:1], wide[4] = 5.0, 0.0, 0.0
    for wrong in (
        b"",
        bytes(whole[:-1]),
        bytes(36),
        nan.tobytes(),
        far.tobytes(),
        wide.tobytes(),
        b"\xff" * 36 * 50_000,
    ):
        with pytest.raises(RefusalError, match="paint it anew"):
            thing_paint.read("Moss", wrong)
    endless = stroke(beside(0), beside(3.9), radius=0.0003)
    once = painted(endless)
    with pytest.raises(RefusalError, match="at most 40,000"):
        thing_paint.with_stroke(once, endless)


def layer_where(clause: OnPainted | OnImage) -> Layer:
    return Layer(
        id="green",
        name="Green",
        set=GREEN,
        fit=Fit(tile_m=1.0, relief_m=0),
        rule=Rule(clauses=(clause,)),
        look=Look(variation=0),
        edge=Edge(kind="fade"),
    )


def ball_painted(turn: np.ndarray, size_m: float, form: ThingForm = AS_DRAWN) -> Baked:
    """A ball with a cap of paint at its own top, as it is baked where it stands."""
    mask = PaintOnThing(id="moss", name="Moss")
    cover = Covering(layers=(layer_where(OnPainted(mask="moss", called="Moss")),), masks=(mask,))
    evidence = Evidence(LAND.width_m, LAND.depth_m, surface=lambda _: painted(stroke(TOP, radius=0.3)))
    sets = {GREEN: pyramid.plain(np.full((8, 8, 3), 0.8, np.float32), 1.0)}
    solid = stretched(SHAPES["sphere"](), form.stretch)
    return baked(solid, stood(turn, size_m), LAND, prepare(cover, sets, evidence), 1024, form=form)


@pytest.mark.parametrize(("turn", "size_m"), [((0, 0, 0), 2.0), ((37, 71, 13), 0.4)])
def test_paint_on_a_ball_is_the_cap_that_geometry_says_however_it_is_turned_and_sized(
    turn: tuple[float, float, float], size_m: float
) -> None:
    found = ball_painted(Rotation.from_euler("xyz", turn, degrees=True).as_matrix(), size_m)
    share = (found.colour[..., 0] - 0.2)[found.held] / 0.6
    weight = _area_of_texels(found, found.held)
    # a cap within a chord of 0.3 of a ball of 0.5: pi chord² (Archimedes) of 4 pi radius²
    assert float((share * weight).sum() / weight.sum()) == pytest.approx(0.3**2 / (4 * 0.5**2), rel=0.01)


@pytest.mark.parametrize("stretch", [(1.0, 1.0, 1.0), (1.0, -1.6, 0.7)])
def test_paint_goes_with_what_is_stretched_or_mirrored(stretch: tuple[float, float, float]) -> None:
    found = ball_painted(np.eye(3), 2.0, ThingForm(0, stretch))
    solid = found.unwrapped.solid
    middle = solid.places[solid.triangles].mean(axis=1) / np.array(stretch)
    texel = (found.unwrapped.flat[solid.triangles].mean(axis=1) * len(found.held)).astype(int)
    covered = found.colour[texel[:, 1], texel[:, 0], 0] > 0.5
    away = np.linalg.norm(middle - TOP, axis=1)
    sure = np.abs(away - 0.3) > 0.02
    assert (covered == (away < 0.3))[sure].all()
    assert covered.sum() > 100


@pytest.mark.parametrize("axis", [0, 1, 2])
def test_a_mirrored_thing_is_closed_and_faces_outwards(axis: int) -> None:
    by = [1.0, 1.0, 1.0]
    by[axis] = -1.3
    plain, other = SHAPES["blob"](), stretched(SHAPES["blob"](), tuple(by))  # type: ignore[arg-type]

    def volume(of: object) -> float:
        a, b, c = (other.places[other.triangles[:, k]].astype(float) for k in range(3))
        if of is plain:
            a, b, c = (plain.places[plain.triangles[:, k]].astype(float) for k in range(3))
        return float(np.einsum("ij,ij->", a, np.cross(b, c))) / 6

    assert volume(other) == pytest.approx(1.3 * volume(plain), rel=1e-5)
    way = other.normals[other.triangles].mean(axis=1)
    a, b, c = (other.places[other.triangles[:, k]] for k in range(3))
    assert (np.einsum("ij,ij->i", np.cross(b - a, c - a), way) > 0).mean() > 0.999
    # bends of its surface keep their sign
    assert np.corrcoef(plain.bend, stretched(plain, (-1.0, 1.0, 1.0)).bend)[0, 1] > 0.999


def test_an_image_over_texture_coordinates_is_looked_up_as_scipy_does() -> None:
    rng = np.random.default_rng(3)
    plane = mask_image.stored(rng.random((9, 14)).astype(np.float32))
    uv = rng.uniform(-1.5, 2.5, (400, 2)).astype(np.float32)
    values = plane.low + plane.span * plane.codes / 65535
    where = np.stack([uv[:, 1] * 9 - 0.5, uv[:, 0] * 14 - 0.5])
    expected = map_coordinates(values, where, order=1, mode="grid-wrap")
    np.testing.assert_allclose(mask_image.over(plane, uv), expected, atol=2e-5)


def test_a_channel_of_an_image_says_where_a_layer_lies_on_a_thing() -> None:
    half = np.zeros((2, 64), np.float32)
    half[:, :32] = 1.0
    image = ImageOnThing(id="halves", name="Halves", file="b" * 40, file_name="halves.png")
    clause = OnImage(image="halves", called="Halves", channel="R")
    asked = []

    def plane(file: str, name: str, channel: str) -> mask_image.ChannelPlane:
        asked.append((file, name, channel))
        return mask_image.stored(half)

    evidence = Evidence(LAND.width_m, LAND.depth_m, plane=plane)
    sets = {GREEN: pyramid.plain(np.full((8, 8, 3), 0.8, np.float32), 1.0)}
    cube = SHAPES["cube"]()
    # clear of the image's edges, where it begins anew
    uv = np.stack([0.8 * cube.places[:, 0] + 0.5, cube.places[:, 2]], 1).astype(np.float32)
    cover = Covering(layers=(layer_where(clause),), images=(image,))
    found = baked(cube._replace(uv=uv), stood(), LAND, prepare(cover, sets, evidence), 256)
    assert set(asked) == {("b" * 40, "halves.png", "R")}
    # its own coordinates are laid out anew where they overlap: by place, the west half is covered
    a, b, c = (found.unwrapped.solid.places[found.unwrapped.solid.triangles[:, k]] for k in range(3))
    middle = (a + b + c) / 3
    flat = found.unwrapped.flat[found.unwrapped.solid.triangles].mean(axis=1) * 256
    shown = found.colour[flat[:, 1].astype(int), flat[:, 0].astype(int), 0]
    west, east = middle[:, 0] < -0.2, middle[:, 0] > 0.2
    assert west.any()
    assert east.any()
    assert (shown[west] > 0.75).all()
    assert (shown[east] < 0.25).all()
