"""The one family of exceptions of the core: each says where the fault is and what is wrong."""


class CaltinError(Exception):
    """Something asked of the core cannot be answered.

    Parameters
    ----------
    where : str
        Path into the request, such as ``colours[3].hex``; empty when it is the request as a whole.
    what : str
        One sentence an artist can read.
    """

    def __init__(self, where: str, what: str) -> None:
        super().__init__(f"{where}: {what}" if where else what)
        self.where = where
        self.what = what

    def __reduce__(self) -> "tuple[type[CaltinError], tuple[str, str]]":
        return type(self), (self.where, self.what)

    def inside(self, prefix: str) -> "CaltinError":
        """The same fault seen from further out, its place prefixed."""
        joined = f"{prefix}.{self.where}" if self.where and not self.where.startswith("[") else prefix + self.where
        return type(self)(joined, self.what)


class BadRequest(CaltinError):
    """The request itself is at fault."""


class UnreadablePicture(BadRequest):
    """A file that was said to be a picture cannot be read as one."""
