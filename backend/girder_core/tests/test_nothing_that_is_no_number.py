"""NaN and infinity end at the door: every function of physics that takes a plain number refuses them in a sentence."""

import importlib
import inspect
import math
import pkgutil
import unittest
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from girder_core import physics
from girder_core.ground import GirderError
from girder_core.kit import Container, Kit, LoadEstimate, LoadItem, kit_covers, load_plan, side_by_side
from girder_core.kit.loading import container_capacity
from girder_core.measure import Quantity, analyse_trace, item_mass_kg, resolution_uncertainty, stated_mass, weighed_unit
from girder_core.measure.uncertainty import scale_good_enough
from girder_core.physics import (
    STOCKS,
    Bounds,
    CableBridge,
    PlankBridge,
    Samples,
    StripArch,
    open_box,
    pattern,
    pleated,
    ring_plan,
    simply_supported,
    tube_column,
)
from girder_core.physics.members import member_of
from girder_core.planning import bench_fit

_FOIL, _CARD, _STICK = STOCKS["foil"], STOCKS["manila"], STOCKS["craft-stick"]
_HULL, _PLEATS = open_box(0.1, 0.07, 0.02, 2e-5, _FOIL), pleated(0.2, 0.01, 6, 3e-4)
_RING, _TUBE = ring_plan(5, 0.04, 0.16, 0.006, 0.13), tube_column("circle", 0.2, 0.15, 3e-4, 1, _CARD)
_HUNG = CableBridge(0.5, 0.15, 0.25, 2.0, 2, 2, 0.1)
_ARCH, _PLANKS = StripArch(0.3, 0.1, 0.05, 4, True, 1.0), PlankBridge(0.3, 0.1, 2, 1, 20)
_DATA: dict[str, Any] = {
    "hull": _HULL, "section": _PLEATS, "material": _CARD, "stock": _STICK, "plan": _RING, "prediction": _TUBE,
    "response": simply_supported(0.3, 1.0, "centre"), "placement": "centre", "shape": "circle", "like": _CARD,
    "end_condition": "pinned-pinned", "joint": STOCKS["glue"], "member": member_of(_STICK), "key": "own",
    "name": "own",
    "grade": "bond", "panel": _CARD, "joint_n": Bounds(1, 2, 3), "grammage_kg_m2": 0.2, "thickness_m": 3e-4,
    "step_ins_m": (0.01, 0.02), "tail_load_n": 1.0, "friction": 0.4, "supports": 5, "take_up": 1.4, "walls": 4,
    "bonded": True, "along_flutes": True, "samples": Samples(50),
}  # fmt: skip
"""What a function gets where it asks by this name, unless its own list says otherwise."""
_NUMBERS: dict[str, float] = {
    "span_m": 0.3, "load_n": 2.0, "patch_m": 0.05, "length_m": 0.3, "elastic_modulus_pa": 3e9,
    "second_moment_m4": 1e-11,
    "sag_m": 0.01, "overlap_m": 0.04, "sag_limit_m": 0.03, "across_m": 0.05, "left": 0.8, "buckling_pa": 1e6,
    "free_buckling_pa": 1e5, "squeeze_pa": 9e6, "free_share": 0.5, "side_m": 0.1, "height_m": 0.2, "perimeter_m": 0.2,
    "edge_crush_n_m": 4e3, "liner_n_m": 3e3, "medium_n_m": 2e3, "cargo_height_m": 0.01, "offset_m": 0.004,
    "water_density_kg_m3": 998.0, "yield_pa": 9e6, "area_m2": 5e-5, "end_factor": 1.0, "wall_m": 3e-4,
    "radius_m": 0.03,
    "poisson": 0.3, "flat_width_m": 0.03, "k": 4.0, "mass_per_length_kg_m": 0.1, "total_load_n": 10.0,
    "one_support_n": 3.0, "safety_factor": 1.5, "further": 0.7, "one_n": 3.0, "sheet_m": 3e-4, "pile_kg_m": 60.0,
    "off": 3.0, "still": 0.3, "load_kg": 0.02, "payload_kg": 0.1, "item_kg": 0.006, "freeboard_m": 0.002,
    "temperature_c": 20.0, "sheet_side_m": 0.15, "other_side_m": 0.1, "rim_m": 0.1, "bottom_m": 0.06, "depth_m": 0.03,
    "beam_m": 0.07, "thickness_m": 0.003, "drop_height_m": 0.1, "static_deflection_m": 0.002, "beam_mass_ratio": 0.1,
    "factor": 3.0, "mass_kg": 0.1, "stiffness_n_m": 1e4, "overhang_m": 0.12, "droop_m": 0.04, "ruler_step_m": 0.001,
    "pounds": 20.0, "width_m": 0.1, "scale_resolution_kg": 0.001, "lap_m": 0.01, "shear_pa": 1e6, "stack_m": 0.003,
    "bending_nm2": 0.05, "foundation_pa": 20.0, "angle_deg": 80.0, "skin_n_m": 0.07, "errs_log": 0.4, "low_n": 1.0,
    "typical_n": 2.0, "high_n": 3.0, "strut_length_m": 0.16, "support_diameter_m": 0.04, "weight_n": 1.0,
    "at_m": 0.05,
    "inner_radius_m": 0.08, "outer_radius_m": 0.13, "near_crossing_m": 0.05, "strut_thickness_m": 0.006,
    "liner_m": 2e-4, "flute_height_m": 3e-3, "medium_m": 2e-4, "flange_width_m": 0.05, "flange_m": 0.004,
    "web_m": 0.002,
    "developed_width_m": 0.2, "pleat_depth_m": 0.01, "diameter_m": 0.006, "outer_diameter_m": 0.05, "base_m": 0.1,
    "frequency_hz": 2.0, "stroke_m": 0.02, "tip_mass_kg": 0.1, "leg_mass_kg": 0.02, "half_base_m": 0.1,
    "centre_of_mass_m": 0.3, "amplitude_m": 0.01, "frequency_ratio": 0.5, "damping_ratio": 0.05,
    "density_kg_m3": 600.0,
    "push_height_m": 0.1, "friction": 0.4, "block_length_m": 0.1, "block_weight_n": 1.0, "tail_at_m": 0.02,
    "take_up": 1.4, "droop_share": 0.4, "best_m": 0.02, "tail_load_n": 1.0,
    "grammage_kg_m2": 0.2, "slope": 0.6, "leg_m": 0.2, "foot_radius_m": 0.06, "rise_m": 0.1, "share": 0.3,
    "aside_m": 0.004, "apart_m": 0.08,
    "half_width_m": 0.02, "radius_of_gyration_m": 0.014,
    "off_m": 0.02, "gap_m": 0.01,
    "item_m": 0.02, "tower_m": 0.15, "at": 0.4, "anchor_kg": 1.0,
}  # fmt: skip
_COUNTS = {"supports": 5, "walls": 4, "legs": 4, "layers": 1, "blocks": 4, "pleats": 6, "sheets": 10, "panels": 4,
           "joints": 6, "feet": 4, "nested": 0, "columns": 2, "points": 9, "waves": 6, "stays": 3,
           "planks": 8, "rails": 2, "pieces": 1, "doubled": 1,
    "trusses": 1}  # fmt: skip
_OWN: dict[str, dict[str, Any]] = {
    "droop_stiffness": {"grammage_kg_m2": Quantity(0.2, 0.002), "thickness_m": Quantity(3e-4, 3e-6)},
    "own_sheet": {"thickness_m": 3e-4}, "open_box": {"length_m": 0.1, "wall_m": 0.02, "material": _FOIL},
    "box": {"depth_m": 0.05}, "board_leg": {"stock": STOCKS["board-b"]}, "raft": {"material": STOCKS["wood-block"]},
    "cantilever": {"placement": "tip"}, "edge_crush_n_m": {"medium_n_m": 2e3},
    "plain_raft": {"material": _FOIL, "sheet_m":
    2e-5, "length_m": 0.1}, "pattern": {"name": "Warren", "span_m": 0.3, "depth_m": 0.1},
    "v_hull": {"material": _FOIL,
    "sheet_m": 2e-5, "length_m": 0.1}, "cantilever_stiffness_n_m": {"length_m": 0.1},
    "triangular_tube": {"side_m": 0.05},
    "joint_strength": {"member": _STICK}, "drop_house": {"joints": 8}, "simply_supported": {"placement": "patch"},
    "fixed_ended": {"placement": "patch"}, "sheet_bridge": {"placement": "patch"},
    "typical_sag_m": {"placement": "patch"},
    "johnson_load_n": {"length_m": 0.01, "second_moment_m4": 1e-8}, "clear_circles_m": {"thickness_m": 0.006},
    "capacity": {"truss": pattern("Warren", 0.3, 0.1, 4)}, "exact_slope": {"thickness_m": 0.006},
    "dish": {"sheet_m": 1e-3},
    "modelled": {}, "trough": {"flange_m": 0.02, "sheet_m": 3e-4}, "wall_overturning": {"thickness_m": 0.1},
    "drop_height_for": {}, "laminate": {"sheet_m": 3e-4}, "rectangle": {"depth_m": 0.002}, "best_open_box": {},
    "corbel_load": {}, "corner_sag_m": {"length_m": 0.4}, "rolled_tube": {"diameter_m": 0.03},
    "deck_load": {"truss": pattern("Warren", 0.3, 0.1, 4)}, "strip_arch": {"arch": _ARCH, "strip": _CARD},
    "plank_bridge": {"bridge": _PLANKS, "rail": _STICK, "plank": _STICK},
    "plank_sag_m": {"bridge": _PLANKS, "rail": _STICK, "placement": "centre"},
    "truss_sag_m": {"truss": pattern("Warren", 0.3, 0.1, 4), "load_pattern": {"B2": 1.0}},
    "cable_bridge": {"bridge": _HUNG, "cable": STOCKS["string"], "tower": _STICK, "deck": _STICK},
    "deck_capacity": {"bridge": _PLANKS, "plank": _STICK}, "deck_full_n": {"bridge": _PLANKS, "plank": _STICK},
    "water_density_kg_m3": {}, "lap_strength_n": {"width_m": 0.01, "thickness_m": 0.002},
    "box_compression_n": {"thickness_m": 0.003}, "ring_weight_n": {"length_m": 0.16},
}  # fmt: skip
_TAKES_ITS_MEANING_FROM_OTHERS = {"levels_at", "lever_m", "reach_m", "rim_level_m", "wetted", "rim_angle_deg",
    "predict", "modelled",
                                  "capacity", "frame_tower", "shaken", "shake_limits", "shaking_agrees", "calibrated",
                                  "model_belief", "calibrate", "sideways_stiffness_n_m", "ring_load",
                                  "alike_bear"}  # fmt: skip
"""Inner steps that get what others have checked; functions whose numbers come in lists, or in objects that check."""


def functions() -> Iterator[tuple[str, Callable[..., Any]]]:
    """Every public function of the room with a plain number among its arguments."""
    for module in pkgutil.iter_modules(physics.__path__):
        for name, function in inspect.getmembers(importlib.import_module(f"girder_core.physics.{module.name}")):
            if not inspect.isfunction(function) and not hasattr(function, "__wrapped__"):
                continue
            if function.__module__ != f"girder_core.physics.{module.name}" or name.startswith("_"):
                continue
            if name not in _TAKES_ITS_MEANING_FROM_OTHERS and numbers(function):
                yield name, function


def numbers(function: Callable[..., Any]) -> list[str]:
    """Its arguments that are plain numbers."""
    return [
        name
        for name, argument in inspect.signature(function).parameters.items()
        if argument.annotation in ("float", "Number", "float | None", "float | Sequence[float]")
    ]


def arguments(name: str, function: Callable[..., Any]) -> dict[str, Any]:
    """Values with which it works."""
    own = _OWN.get(name, {})
    found = {}
    for label, argument in inspect.signature(function).parameters.items():
        if label in own:
            found[label] = own[label]
        elif label in numbers(function) and label in _NUMBERS:
            found[label] = _NUMBERS[label]
        elif label in _COUNTS and argument.annotation == "int":
            found[label] = _COUNTS[label]
        elif label in _DATA and argument.default is inspect.Parameter.empty:
            found[label] = _DATA[label]
    return found


def other_doors(bad: float) -> dict[str, Callable[[], Any]]:
    """The same at the doors of measuring and of the kit, where numbers come from files and sums."""
    item = LoadItem("nut", Quantity(0.016), 20, diameter_m=0.019, thickness_m=0.01)
    kit, sure = Kit((item,)), LoadEstimate(0.1, 0.2, 0.3, "the model")
    return {
        "quantity": lambda: Quantity(bad),
        "doubt": lambda: Quantity(1.0, bad),
        "resolution": lambda: resolution_uncertainty(bad),
        "batch": lambda: item_mass_kg(bad, 10, 0.001),
        "batch's scale": lambda: item_mass_kg(0.1, 10, bad),
        "stated": lambda: stated_mass(bad, 0.001),
        "within": lambda: stated_mass(0.1, bad),
        "scale": lambda: scale_good_enough(bad, 0.001),
        "weighed": lambda: weighed_unit(bad, 10, 0.001),
        "container": lambda: container_capacity(Container(bad, 0.05), item),
        "packing": lambda: container_capacity(Container(0.07, 0.05), item, bad),
        "deck": lambda: side_by_side(bad, 0.1, 0.02),
        "item": lambda: side_by_side(0.1, 0.1, bad),
        "expected": lambda: LoadEstimate(bad, 1.0, 2.0, "the model"),
        "expected middle": lambda: LoadEstimate(0.1, bad, 2.0, "the model"),
        "limit": lambda: kit_covers(kit, sure, 6, bad),
        # A trial may take as long as it likes, so infinity is a time.
        "time": lambda: load_plan(kit, sure, bad if math.isnan(bad) else math.nan, 5, 5, 0.1),
        "wait": lambda: load_plan(kit, sure, 300, 5, bad, 0.1),
        "goal": lambda: load_plan(kit, sure, 300, 5, 5, bad),
        "bench": lambda: load_plan(kit, sure, 300, 5, 5, 0.1, bench_limit_kg=bad),
        "read": lambda: load_plan(kit, sure, 300, 5, 5, 0.1, read_kg=bad),
        "left": lambda: bench_fit(bad, 4, 200, [], 2, None),
        "drop": lambda: analyse_trace(np.arange(20.0), np.arange(20.0), bad),
        "speed": lambda: analyse_trace(np.arange(20.0), np.arange(20.0), 0.2, bad),
    }


class Doors(unittest.TestCase):
    def test_they_work_with_what_is_given_here(self) -> None:
        seen = 0
        for name, function in functions():
            with self.subTest(name):
                function(**arguments(name, function))
                seen += 1
        self.assertGreater(seen, 75)

    def test_and_at_the_other_doors(self) -> None:
        for bad in (math.nan, math.inf, -math.inf):
            for name, opened in other_doors(bad).items():
                with self.subTest(f"{name} {bad}"), self.assertRaises(GirderError):
                    opened()

    def test_no_number_is_refused_in_a_sentence(self) -> None:
        for name, function in functions():
            good = arguments(name, function)
            for label in numbers(function):
                for bad in (math.nan, math.inf, -math.inf):
                    with self.subTest(f"{name}({label}={bad})"), np.errstate(all="ignore"):
                        with self.assertRaises(GirderError) as caught:
                            function(**{**good, label: bad})
                        self.assertGreater(len(caught.exception.sentence), 15)
