"""Every operation of the schema, to be tried by somebody who is let in nowhere."""

from __future__ import annotations

import re
from collections.abc import Iterator

from drf_spectacular.generators import SchemaGenerator

METHODS = {"get", "post", "put", "patch", "delete"}


def operations(number: int) -> Iterator[tuple[str, str, str]]:
    """Method, address with every parameter filled in, and path of the schema.

    number  of a row that is there
    """
    document = SchemaGenerator().get_schema(public=True)  # type: ignore[no-untyped-call]
    for path, kinds in document["paths"].items():
        address = re.sub(r"\{[^}]*\}", str(number), path)
        for method in sorted(set(kinds) & METHODS):
            yield method, address, path
