"""What the API says of people, wherever it names them."""

from dataclasses import dataclass

from fluctus.http.shapes import Shape


@dataclass(frozen=True, slots=True)
class NamedPerson(Shape):
    """Somebody, as others see them, and the name that they are asked for by."""

    username: str
    name: str
