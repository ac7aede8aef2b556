"""The one rule that keeps a kitchen's rows its own: a query of them says whose they are, or fails."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any, ClassVar, Self, TypeVar

from django.db import models

if TYPE_CHECKING:
    from kitchens.models import Kitchen

Row = TypeVar("Row", bound=models.Model)


class UnscopedQueryError(Exception):
    """A query of a kitchen's table that does not say which kitchen's rows it wants."""

    def __init__(self, model: type[models.Model]) -> None:
        super().__init__(f"A query of {model.__name__} begins with .of(kitchen), or comes from a row of that kitchen.")


class KitchenQuerySet(models.QuerySet[Row]):
    """Rows of kitchens; whatever reads, changes or counts them without `of` raises `UnscopedQueryError`.

    What a row of a kitchen leads to, such as ``mix.revisions``, needs no `of`.
    """

    _is_scoped = False

    def of(self, kitchen: Kitchen | int) -> Self:
        """Return the rows of one kitchen, or of the one of that number."""
        rows = self.filter(kitchen=kitchen)
        rows._is_scoped = True
        return rows

    def of_all_kitchens(self) -> Self:
        """Return the rows of all kitchens: for what serves the installation, never for what a person asks."""
        rows = self.all()
        rows._is_scoped = True
        return rows

    def _clone(self) -> Self:
        clone: Self = super()._clone()  # type: ignore[misc] # Django's own, which its stubs leave out
        clone._is_scoped = self._is_scoped
        return clone

    def _check_scope(self) -> None:
        if not self._is_scoped and "instance" not in self._hints:  # type: ignore[attr-defined] # as above
            raise UnscopedQueryError(self.model)

    def _fetch_all(self) -> None:
        self._check_scope()
        super()._fetch_all()

    def iterator(self, chunk_size: int | None = None) -> Iterator[Row]:
        self._check_scope()
        return super().iterator(chunk_size)

    def count(self) -> int:
        self._check_scope()
        return super().count()

    def exists(self) -> bool:
        self._check_scope()
        return super().exists()

    def aggregate(self, *args: Any, **kwargs: Any) -> dict[str, Any]:
        self._check_scope()
        return super().aggregate(*args, **kwargs)

    def update(self, **kwargs: Any) -> int:
        self._check_scope()
        return super().update(**kwargs)

    def delete(self) -> tuple[int, dict[str, int]]:
        self._check_scope()
        return super().delete()


class KitchenManager(models.Manager[Row]):
    """Begins every query of a kitchen's rows."""

    def get_queryset(self) -> KitchenQuerySet[Row]:
        return KitchenQuerySet(self.model, using=self._db, hints=self._hints)  # type: ignore[attr-defined] # as above

    def of(self, kitchen: Kitchen | int) -> KitchenQuerySet[Row]:
        """Return the rows of one kitchen, or of the one of that number."""
        return self.get_queryset().of(kitchen)

    def of_all_kitchens(self) -> KitchenQuerySet[Row]:
        """Return the rows of all kitchens: for what serves the installation, never for what a person asks."""
        return self.get_queryset().of_all_kitchens()


class KitchenOwned(models.Model):
    """A row that belongs to a kitchen."""

    kitchen = models.ForeignKey("kitchens.Kitchen", on_delete=models.CASCADE, related_name="+")

    objects: ClassVar[KitchenManager[Self]] = KitchenManager()

    class Meta:
        abstract = True


class AppendOnly(models.Model):
    """A row that is written once; what is recorded stays as it was."""

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        if not self._state.adding:
            raise TypeError(f"{type(self).__name__} {self.pk} is a record and cannot be changed.")
        super().save(*args, **kwargs)
