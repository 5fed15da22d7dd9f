"""`edrix-engine/1`: the open engine file, in and out. `docs/engine-file.md` describes it."""

from valvetrain.engine_file.fields import ENGINE_FORMAT
from valvetrain.engine_file.read import read_engine, remarks
from valvetrain.engine_file.schema import engine_schema
from valvetrain.engine_file.write import write_engine

__all__ = ["ENGINE_FORMAT", "engine_schema", "read_engine", "remarks", "write_engine"]
