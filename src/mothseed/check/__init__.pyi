from .findings import findings as findings
from .registry import codes as codes
from .rule import Finding as Finding
from .rule import Look as Look
from .rule import Rule as Rule
from .rule import line_of as line_of
