"""The details behind a draft: its figures, what other schools say, its gums, and the names that the law protects."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict

import numpy as np

from analysis.kitchen_drafts import freezer_of, read_in_kitchen
from analysis.schemas import ComparisonOut, Details, DraftToAnalyse, FigureOut, GumOut, NameOut, ServingSumOut
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.figures import Figure, figures_of
from jalebi_core.assessment.gums import Gum, gums_of
from jalebi_core.assessment.serving_sum import ServingSum, serving_sums
from jalebi_core.model.aims import bands_for
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import Band
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.phases import phases_of
from jalebi_core.physics.sucrose_equivalents import comparison_line
from jalebi_core.regulation.identity_standards import identity_standards_of
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of


def details_of(kitchen: Kitchen, draft: DraftToAnalyse) -> Details | None:
    """Return the details of a draft; None while nothing in it weighs anything."""
    read = read_in_kitchen(kitchen, draft)
    if read.mix is None:
        return None
    return serialize_details(read.mix, kitchen, freezer_of(kitchen, draft), read.numbers)


def serialize_details(mix: Mix, kitchen: Kitchen, freezer_c: float, numbers: Sequence[int] | None = None) -> Details:
    """Return the details of a mix in a kitchen; ``numbers`` says which line of a draft each of its lines is."""
    found, overrun = analyse_mix(mix, freezer_c=freezer_c), np.array(mix.overrun_used_pct)
    cold = phases_of(found.row, overrun, frozen_at(found.row, freezer_c), freezer_c)
    usual, gums = bands_for(mix.style), gums_of(mix, kitchen.fine_scale_g)
    line = comparison_line(found.row)
    return Details(
        figures=[_figure(figure, usual) for figure in figures_of(found, cold, mix.bands)],
        sums=[_sum(one, kitchen) for one in serving_sums(mix)],
        comparison=ComparisonOut(t_c=list(line.t_c), frozen_pct=list(line.frozen_pct), message=line.message),
        gums=[_gum(gum, numbers or range(len(mix.lines)), notation_of(kitchen)) for gum in gums.gums],
        gum_total_pct=gums.total_pct,
        gum_in_water_pct=gums.total_in_water_pct,
        gum_pairs=list(gums.pairs),
        names=[NameOut(**asdict(name)) for name in identity_standards_of(mix, kitchen.region)],
    )


def _sum(one: ServingSum, kitchen: Kitchen) -> ServingSumOut:
    said = words(one.message, notation_of(kitchen))
    return ServingSumOut(counted=one.counted, per_kg=one.per_kg, serve_c=one.serve_c, message=said)


def _figure(figure: Figure, usual: Mapping[str, Band]) -> FigureOut:
    of, band, style = figure.quantity, figure.band, usual.get(figure.quantity.key)
    return FigureOut(
        key=of.key,
        name=of.name,
        value=figure.value,
        unit=of.unit,
        digits=of.digits,
        note=of.note,
        scale=list(of.scale),
        band=list(band) if band else None,
        usual=list(style) if style else None,
        aim=of.aim,
        formula=of.formula,
        source=of.source,
        rule=of.rule,
    )


def _gum(gum: Gum, numbers: Sequence[int], notation: Notation) -> GumOut:
    return GumOut(
        line=numbers[gum.number],
        name=gum.name,
        grams=gum.grams,
        dose_pct=gum.dose_pct,
        in_water_pct=gum.in_water_pct,
        usual_pct=list(gum.usual_pct),
        word=gum.word,
        works=gum.works,
        weighable=gum.weighable,
        advice=[notation.text(words(message, notation)) for message in gum.advice],
    )
