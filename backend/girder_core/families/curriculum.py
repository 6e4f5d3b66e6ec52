"""Engineering design in the Next Generation Science Standards, by grade band; codes and short texts from memory."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from girder_core.safety import AgeBand


@dataclass(frozen=True)
class Standard:
    """A performance expectation of the public engineering-design standards, by code."""

    code: str
    text: str


DESIGN: Mapping[AgeBand, tuple[Standard, ...]] = {
    AgeBand.AGES_5_7: (
        Standard("K-2-ETS1-1", "Ask questions and gather information about a problem that a new object could solve."),
        Standard("K-2-ETS1-2", "Sketch or model how the shape of an object helps it do its job."),
        Standard("K-2-ETS1-3", "Compare two objects made for the same problem, from tests of both."),
    ),
    AgeBand.AGES_8_10: (
        Standard("3-5-ETS1-1", "Define a simple design problem with criteria and constraints."),
        Standard("3-5-ETS1-2", "Compare possible solutions by how well they meet criteria and constraints."),
        Standard("3-5-ETS1-3", "Carry out fair tests with failure points to find what can be improved."),
    ),
    AgeBand.AGES_11_13: (
        Standard("MS-ETS1-1", "Define criteria and constraints precisely enough for a sound solution."),
        Standard("MS-ETS1-2", "Weigh competing solutions by a systematic process."),
        Standard("MS-ETS1-3", "Analyse test data for similarities and differences between designs."),
        Standard("MS-ETS1-4", "Use a model to test and improve a design step by step."),
    ),
    AgeBand.AGES_14_18: (
        Standard("HS-ETS1-2", "Break a real problem into smaller ones that engineering can solve."),
        Standard("HS-ETS1-3", "Judge a solution by prioritised criteria and trade-offs."),
        Standard("HS-ETS1-4", "Model a proposed solution on a computer."),
    ),
}

PUSHES_K = Standard("K-PS2-1", "Compare how pushes and pulls of different strength change motion.")
BALANCE_3 = Standard("3-PS2-1", "Investigate balanced and unbalanced forces on an object.")
FORCES_MS = Standard("MS-PS2-2", "Plan an investigation of how the sum of forces changes an object's motion.")
FORCES_HS = Standard("HS-PS2-1", "Analyse data on net force, mass and acceleration.")
ENERGY_4 = Standard("4-PS3-3", "Ask what happens to energy when objects collide.")
ENERGY_MS = Standard("MS-PS3-5", "Argue that when motion energy changes, energy is transferred.")
COLLISION_HS = Standard("HS-PS2-3", "Design a device that lessens the force on an object in a collision.")
MATTER_2 = Standard("2-PS1-1", "Describe materials by their observable properties.")
MATERIALS_2 = Standard("2-PS1-2", "Find which materials suit a purpose from tests of them.")
HAZARDS_4 = Standard("4-ESS3-2", "Compare ways to lessen what natural hazards do to people.")
HAZARDS_MS = Standard("MS-ESS3-2", "Use data on natural hazards to foresee them and soften their effects.")
STRUCTURE_HS = Standard("HS-PS2-6", "Explain why the structure of designed materials matters for their function.")
MATTER_5 = Standard("5-PS1-3", "Identify materials by measured properties.")
