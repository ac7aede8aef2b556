"""The mixed-integer linear programme as HiGHS takes it: one call, loaded only when something is balanced."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.model.components import FloatArray

_SECONDS: Final = 8.0
_MOST_GAP: Final = 1e-6


@dataclass(frozen=True, slots=True)
class LinearProgramme:
    """Least costs @ x where lower ≤ x ≤ upper and least ≤ matrix @ x ≤ most; whole marks what is a whole number.

    Shapes: (columns,), but ``matrix`` (rows, columns), ``least`` and ``most`` (rows,).
    """

    costs: FloatArray
    matrix: FloatArray
    least: FloatArray
    most: FloatArray
    lower: FloatArray
    upper: FloatArray
    whole: NDArray[np.bool_]


def least_costs(programme: LinearProgramme) -> FloatArray | None:
    """Return what costs least, shape (columns,); None where nothing is possible or no answer came in time."""
    import highspy

    solver = highspy.Highs()
    for option, value in (
        ("output_flag", False),
        ("threads", 1),
        ("parallel", "off"),
        ("time_limit", _SECONDS),
        ("mip_rel_gap", _MOST_GAP),
    ):
        solver.setOptionValue(option, value)
    solver.passModel(_model(programme))
    solver.run()
    if solver.getInfo().primal_solution_status != int(highspy.SolutionStatus.kSolutionStatusFeasible):
        return None
    return np.array(solver.getSolution().col_value)


def _model(programme: LinearProgramme) -> object:
    import highspy

    model = highspy.HighsLp()
    rows, columns = programme.matrix.shape
    model.num_row_, model.num_col_ = rows, columns
    model.col_cost_ = programme.costs
    model.col_lower_, model.col_upper_ = programme.lower, programme.upper
    model.row_lower_, model.row_upper_ = programme.least, programme.most
    at, of = np.nonzero(programme.matrix)
    model.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    model.a_matrix_.start_ = np.concatenate(([0], np.cumsum(np.bincount(at, minlength=rows))))
    model.a_matrix_.index_ = of
    model.a_matrix_.value_ = programme.matrix[at, of]
    if programme.whole.any():
        kinds = (highspy.HighsVarType.kContinuous, highspy.HighsVarType.kInteger)
        model.integrality_ = [kinds[int(whole)] for whole in programme.whole]
    return model
