"""Forecasts of cold and heat over time: machines, tubs, ice and salt, pots. Nothing is kept."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from forecasts.baths import bath_forecast, load_forecast
from forecasts.pots import pot_forecast, reduction_forecast
from forecasts.runs import machine_runs, run_forecast
from forecasts.schemas import (
    BathOut,
    BathQuestion,
    LoadOut,
    LoadQuestion,
    MachineRun,
    PotOut,
    PotQuestion,
    ReductionOut,
    ReductionQuestion,
    RunOut,
    RunQuestion,
    TubOut,
    TubQuestion,
)
from forecasts.tubs import tub_forecast
from kitchens.sign_in import kitchen_of

router = Router(tags=["forecasts"])


@router.post("/run-forecasts", response=RunOut | None)
def forecast_run(request: HttpRequest, payload: RunQuestion) -> RunOut | None:
    """Say how a draft freezes in the machine that it is meant for, and what would help where it does not."""
    return run_forecast(kitchen_of(request), payload)


@router.post("/machine-comparisons", response=list[MachineRun])
def compare_machines(request: HttpRequest, payload: RunQuestion) -> list[MachineRun]:
    """Return a draft in each of the kitchen's machines."""
    return machine_runs(kitchen_of(request), payload)


@router.post("/tub-forecasts", response=TubOut | None)
def forecast_tub(request: HttpRequest, payload: TubQuestion) -> TubOut | None:
    """Say when a draft in its tub is hard, and when it scoops."""
    return tub_forecast(kitchen_of(request), payload)


@router.post("/bath-forecasts", response=BathOut)
def forecast_bath(request: HttpRequest, payload: BathQuestion) -> BathOut:
    """Say how cold ice and salt are, and for how long."""
    return bath_forecast(kitchen_of(request), payload)


@router.post("/ice-loads", response=LoadOut | None)
def load_of_ice(request: HttpRequest, payload: LoadQuestion) -> LoadOut | None:
    """Say how much ice and salt churn a draft or harden it."""
    return load_forecast(kitchen_of(request), payload)


@router.post("/pot-forecasts", response=PotOut | None)
def forecast_pot(request: HttpRequest, payload: PotQuestion) -> PotOut | None:
    """Say how long a pot of a draft takes to cool in each of the usual ways, and what its record is worth."""
    return pot_forecast(kitchen_of(request), payload)


@router.post("/reduction-forecasts", response=ReductionOut | None)
def forecast_reduction(request: HttpRequest, payload: ReductionQuestion) -> ReductionOut | None:
    """Say how long a draft takes to boil down."""
    return reduction_forecast(kitchen_of(request), payload)
