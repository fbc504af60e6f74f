"""Every kind of observation there is, found in `logbook/kinds`."""

from typing import TYPE_CHECKING, Annotated, Any, TypeAlias, Union

from pydantic import Field

import farrail.logbook.kinds
from farrail.logbook.observation import Observation
from farrail.parts.registered import kinds_in

OBSERVATIONS = kinds_in(farrail.logbook.kinds, Observation)

if TYPE_CHECKING:
    AnyObservation: TypeAlias = Observation
else:
    # The stored form: any kind, distinguished by its tag.
    AnyObservation: Any = Annotated[
        Union[tuple(OBSERVATIONS.values())],  # noqa: UP007 (made of a tuple)
        Field(discriminator="kind"),
    ]
