"""The runs of a machine in the constraint programme: a circuit with two arcs from run to run, washed and continuing."""

from __future__ import annotations

from typing import Any

from jalebi_core.production.schedule.model import Attended, Bend, Model
from jalebi_core.production.schedule.problem import Begun, Machine, Problem, Setup, Step


def model_of(problem: Problem, bend: Bend | None = None) -> Model:
    """Return the whole programme of a problem, with the order in which each machine runs."""
    model = Model(problem, bend)
    for machine in problem.machines:
        _Runs(model, machine).add()
    model.close()
    return model


class _Runs:
    """The runs of one machine: the last that has begun, and all that may still be."""

    def __init__(self, model: Model, machine: Machine) -> None:
        self.model, self.machine, self.cp = model, machine, model.cp
        problem = model.problem
        mine = [
            (step, model.chosen[step.id][number])
            for step in problem.steps
            for number, option in enumerate(step.options)
            if option.machine == machine.id and step.id not in problem.begun
        ]
        begun = [
            step
            for step in problem.steps
            if step.id in problem.begun and step.options[problem.begun[step.id].option].machine == machine.id
        ]
        self.last = max(begun, key=lambda step: problem.begun[step.id].start, default=None)
        if self.last is not None:
            mine.insert(0, (self.last, model.chosen[self.last.id][problem.begun[self.last.id].option]))
        self.runs = mine
        replanning = problem.replanning
        self.washed = replanning.washed(self.last.id) if replanning and self.last else None
        self.readied = replanning.readied(machine.id) if replanning else None

    def add(self) -> None:
        if not self.runs:
            return
        used = self.cp.new_bool_var(f"{self.machine.id} used")
        arcs: list[tuple[int, int, Any]] = [(0, 0, used.negated())]
        for at, (step, literal) in enumerate(self.runs, start=1):
            self.cp.add_implication(literal, used)
            first, last = self.cp.new_bool_var(""), self.cp.new_bool_var("")
            arcs += [(at, at, literal.negated()), (0, at, first), (at, 0, last)]
            if self.last is not None:
                self.cp.add(first == (step is self.last))
            else:
                self._first_ready(step, first)
            arcs += self._onwards(at, step, last)
        self.cp.add_circuit(arcs)
        self._stand_still()

    def _stand_still(self) -> None:
        """Let it not run while it is off."""
        for begin, end in self.machine.off:
            start, size = begin // self.model.unit, (end - begin) // self.model.unit
            off = self.cp.new_fixed_size_interval_var(start, size, "")
            for run in self.model.running[self.machine.id]:
                self.cp.add_no_overlap([off, run])

    def _onwards(self, at: int, step: Step, last: Any) -> list[tuple[int, int, Any]]:
        """Return the arcs from a run to those that may follow it."""
        model, unit = self.model, self.model.unit
        washed = self.washed if step is self.last else None
        start: Any = self.cp.new_int_var(0, model.horizon, "") if washed is None else washed.start // unit
        end: Any = start + self.machine.wash_min // unit if washed is None else -(-washed.end // unit)
        arcs, by_washes = [], [last]
        for to, (other, _) in enumerate(self.runs, start=1):
            if to == at or other is self.last:
                continue
            by_wash = self.cp.new_bool_var("")
            arcs.append((at, to, by_wash))
            by_washes.append(by_wash)
            self.cp.add(model.start[other.id] >= end).only_enforce_if(by_wash)
            self._ready(other, by_wash, end, self.readied if washed is not None else None)
            if washed is None and not self.machine.wash_always and step.carries <= other.carries:
                goes_on = self.cp.new_bool_var("")
                arcs.append((at, to, goes_on))
                gap = model.start[other.id] - model.end[step.id]
                self.cp.add(gap >= 0).only_enforce_if(goes_on)
                self.cp.add(gap <= self.machine.dirty_max_min // unit).only_enforce_if(goes_on)
        wash = self.cp.new_bool_var(f"wash after {step.id}")
        self.cp.add(sum(by_washes) == wash)
        if washed is None:
            self._wash(step, wash, start, end)
        return arcs

    def _wash(self, step: Step, wash: Any, start: Any, end: Any) -> None:
        model = self.model
        model.wash_literals.append(wash)
        self.cp.add(start >= model.end[step.id]).only_enforce_if(wash)
        self.cp.add(start >= model.now).only_enforce_if(wash)
        if not self._is_overdue(model.problem.begun.get(step.id)):
            dirty = self.machine.dirty_max_min // model.unit
            self.cp.add(start <= model.end[step.id] + dirty).only_enforce_if(wash)
        self.cp.add(end <= model.horizon).only_enforce_if(wash)
        by = [model.attend(start, end, wash)]
        model.setups.append(("wash", self.machine.id, step.id, start, end, by, wash))

    def _is_overdue(self, begun: Begun | None) -> bool:
        """Return whether the machine has stood dirty too long already: then it is washed whenever somebody can."""
        if begun is None or begun.end is None:
            return False
        return begun.end + self.machine.dirty_max_min < self.model.problem.now

    def _first_ready(self, step: Step, first: Any) -> None:
        machine, model = self.machine, self.model
        if self.readied is not None or machine.ready_since is None:
            self._ready(step, first, model.now, self.readied)
            return
        since = machine.ready_since
        ready = -(-(since + machine.ready_min) // model.unit)
        self.cp.add(model.start[step.id] >= ready).only_enforce_if(first)
        model.hold(machine.ready_uses, max(since, model.problem.now, 0) // model.unit, model.start[step.id], first)
        if machine.ready_min > 0:
            model.setups.append(("ready", machine.id, step.id, since // model.unit, model.start[step.id], [], first))

    def _ready(self, step: Step, wanted: Any, after: Any, readied: Setup | None) -> None:
        """Make the machine ready for a run after its wash, or go on with what was begun for whichever run is next."""
        machine, model, unit = self.machine, self.model, self.model.unit
        if machine.ready_min == 0:
            return
        end = model.start[step.id]
        start: Any = self.cp.new_int_var(0, model.horizon, "") if readied is None else readied.start // unit
        self.cp.add(end - start >= -(-machine.ready_min // unit)).only_enforce_if(wanted)
        if readied is not None:
            model.hold(machine.ready_uses, model.now, end, wanted)
            by = [
                Attended(piece.start // unit, piece.end // unit, ((piece.who, wanted),), wanted)
                for piece in readied.people
            ]
        else:
            if machine.ready_max_min is not None:
                self.cp.add(end - start <= machine.ready_max_min // unit).only_enforce_if(wanted)
            self.cp.add(start >= after).only_enforce_if(wanted)
            self.cp.add(start >= model.now).only_enforce_if(wanted)
            model.hold(machine.ready_uses, start, end, wanted)
            hands = machine.ready_hands_min // unit
            by = [model.attend(start, start + hands, wanted)] if hands else []
        model.setups.append(("ready", machine.id, step.id, start, end, by, wanted))
