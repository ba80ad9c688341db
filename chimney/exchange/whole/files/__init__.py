"""A whole log as a file, and what was handed over as one."""

from chimney.exchange.whole.files.package import Package
from chimney.exchange.whole.files.stored import folder, forget, remove_unkept, store
from chimney.exchange.whole.files.writing import text_of, write

__all__ = ["Package", "folder", "forget", "remove_unkept", "store", "text_of", "write"]
