"""The simulator's loop in C, written by machine from the same functions that numba compiles.

A hand-written copy would soon be another loop. The compiled functions are a small language (numbers, records, arrays,
if, for), so each is translated statement by statement; the benchmark compiles the result with the system's C compiler,
holds its lanes against the model's, and compares the speed.
"""

import ast
import ctypes
import inspect
import math
import shutil
import subprocess
import tempfile
import textwrap
from pathlib import Path
from types import ModuleType
from typing import Any

import numpy as np

from leitfaden_core.sensors.oxygen import TEMP_STEPS
from leitfaden_core.simulate import step
from leitfaden_core.simulate.layout import EFFECT, HOOK, INPUT, LANES
from leitfaden_core.simulate.state import STATE

#: Parameters that are records, by name, with their C type.
PARTS = {part: part.capitalize() for part in STATE.names or ()}
RECORDS = {"p": "Params", "s": "State", "h": "Hooks", "row": "Input", "lane": "Lane", **PARTS}
#: Parameters that are arrays of records.
ARRAYS = {
    "ps": "Params *",
    "ss": "State *",
    "hs": "Hooks *",
    "effects": "Effect *",
    "inputs": "Input *",
    "lanes": "Lane *",
}
_MATH = {"sqrt": "sqrt", "exp": "exp", "log": "log", "sin": "sin", "cos": "cos", "acos": "acos", "copysign": "copysign"}
_OPS = {
    ast.Add: "+",
    ast.Sub: "-",
    ast.Mult: "*",
    ast.Div: "/",
    ast.Mod: "%",
    ast.BitXor: "^",
    ast.LShift: "<<",
    ast.RShift: ">>",
    ast.BitAnd: "&",
}
_COMPARE = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!="}
_LONGS = {"int", "long"}


class Translator:
    """Collects the functions that an entry calls and writes each in C."""

    def __init__(self, entry: Any) -> None:
        self.done: dict[str, str] = {}
        self.returns: dict[str, str] = {}
        self.kinds: dict[str, list[str]] = {}
        self.tables: dict[str, np.ndarray] = {}
        self._function(entry.py_func)

    def _function(self, function: Any) -> None:
        name = function.__name__
        if name in self.returns:
            return
        tree = ast.parse(textwrap.dedent(inspect.getsource(function))).body[0]
        assert isinstance(tree, ast.FunctionDef)
        scope = Scope(self, inspect.getmodule(function), tree)
        self.returns[name] = scope.returned
        self.kinds[name] = [kind for _name, kind in scope.parameters]
        body = scope.body()
        head = (
            f"static inline {scope.returned} "
            f"{name}({', '.join(f'{kind} {_word(arg)}' for arg, kind in scope.parameters)})"
        )
        self.done[name] = f"{head} {{\n{body}}}\n"

    def source(self, params: np.dtype) -> str:
        """The whole C file."""
        structs = [
            _struct("Params", params),
            *(_struct(kind, STATE[part]) for part, kind in PARTS.items()),
            f"typedef struct {{ {' '.join(f'{kind} {part};' for part, kind in PARTS.items())} }} State;",
            _struct("Hooks", HOOK),
            _struct("Input", INPUT),
            _struct("Lane", LANES),
            _struct("Effect", EFFECT),
        ]
        tuples = [f"typedef struct {{ {' '.join(f'double f{k};' for k in range(n))} }} Tuple{n};" for n in (2, 3, 4)]
        head = "#include <math.h>\n#include <stdint.h>\nstatic long effect_count, present_columns, frame_count;\n"
        tables = [
            (
                f"static const {'double' if values.dtype.kind == 'f' else 'long'} {name}[] = "
                f"{{{', '.join(map(repr, values.ravel().tolist()))}}};"
            )
            for name, values in self.tables.items()
        ]
        helpers = (
            "static inline double lesser(double a, double b) { return b < a ? b : a; }\nstatic inline double "
            "greater(double a, double b) { return b > a ? b : a; }\n"
        )
        entry = """
void simulate(long frames, long effects_n, long faults_n, Params *ps, State *ss, Hooks *hs, double *hooks,
              double *sound, Effect *effects, uint8_t *present, Input *inputs, long first, uint64_t seed, Lane *lanes,
              double *flat_state, float *flat_lanes) {
  frame_count = frames; effect_count = effects_n; present_columns = faults_n;
  run(ps, ss, hs, hooks, sound, effects, present, inputs, first, seed, lanes, flat_state, flat_lanes);
}
"""
        return "\n".join([head, *structs, *tuples, *tables, helpers, *self.done.values(), entry])


class Scope:
    """One function: its parameters, its local variables, its statements."""

    def __init__(self, whole: Translator, module: ModuleType | None, tree: ast.FunctionDef) -> None:
        self.whole, self.module, self.tree = whole, module, tree
        self.parameters = [(arg.arg, _parameter(arg)) for arg in tree.args.args]
        self.types = dict(self.parameters)
        self.returned = _returned(tree.returns)
        self.locals: dict[str, str] = {}
        self.count = 0

    def body(self) -> str:
        lines = self._block(self.tree.body, 1)
        declared = [f"  {kind} {name};" for name, kind in self.locals.items()]
        return "\n".join([*declared, *lines]) + "\n"

    def _block(self, statements: list[ast.stmt], depth: int) -> list[str]:
        return [line for statement in statements for line in self._statement(statement, depth)]

    def _statement(self, node: ast.stmt, depth: int) -> list[str]:
        pad = "  " * depth
        if isinstance(node, ast.Expr):
            return [] if isinstance(node.value, ast.Constant) else [f"{pad}{self._value(node.value)};"]
        if isinstance(node, ast.Assign):
            return [pad + line for target in node.targets for line in self._assign(target, node.value)]
        if isinstance(node, ast.AnnAssign):
            return [pad + line for line in self._assign(node.target, node.value)]
        if isinstance(node, ast.AugAssign):
            return [
                (
                    f"{pad}{self._value(node.target)} = {self._value(node.target)} {_OPS[type(node.op)]} "
                    f"({self._value(node.value)});"
                )
            ]
        if isinstance(node, ast.If):
            lines = [f"{pad}if ({self._value(node.test)}) {{", *self._block(node.body, depth + 1), f"{pad}}}"]
            return lines + ([f"{pad}else {{", *self._block(node.orelse, depth + 1), f"{pad}}}"] if node.orelse else [])
        if isinstance(node, ast.For):
            assert isinstance(node.target, ast.Name) and isinstance(node.iter, ast.Call)
            name = f"loop{self.count}" if node.target.id == "_" else node.target.id
            self.count += 1
            self.types[name] = self.locals[name] = "long"
            end = self._value(node.iter.args[0])
            return [
                f"{pad}for ({name} = 0; {name} < {end}; {name}++) {{",
                *self._block(node.body, depth + 1),
                f"{pad}}}",
            ]
        if isinstance(node, ast.Return):
            if isinstance(node.value, ast.Tuple):
                return [f"{pad}return ({self.returned}){{{', '.join(self._value(part) for part in node.value.elts)}}};"]
            return [f"{pad}return {self._value(node.value) if node.value else ''};"]
        if isinstance(node, ast.Continue):
            return [f"{pad}continue;"]
        raise NotImplementedError(ast.dump(node))

    def _assign(self, target: ast.expr, value: ast.expr | None) -> list[str]:
        assert value is not None
        if isinstance(target, ast.Tuple):
            if isinstance(value, ast.Tuple):
                # All right-hand sides first: Python evaluates them before it assigns.
                names = [f"hold{self.count}_{k}" for k in range(len(value.elts))]
                self.count += 1
                for name, part in zip(names, value.elts, strict=True):
                    self.locals[name] = self._type(part)
                first = [f"{name} = {self._value(part)};" for name, part in zip(names, value.elts, strict=True)]
                return first + [
                    f"{self._target(t, self.locals[name])} = {name};"
                    for name, t in zip(names, target.elts, strict=True)
                ]
            called = self._value(value)
            assert isinstance(value, ast.Call) and isinstance(value.func, ast.Name)
            name, kind = f"tuple{self.count}", self.whole.returns[value.func.id]
            self.count += 1
            self.locals[name] = kind
            return [f"{name} = {called};"] + [
                f"{self._target(t, 'double')} = {name}.f{k};" for k, t in enumerate(target.elts)
            ]
        kind = self._type(value)
        return [f"{self._target(target, kind)} = {self._value(value)};"]

    def _target(self, node: ast.expr, kind: str) -> str:
        if isinstance(node, ast.Name) and node.id not in self.types:
            self.types[node.id] = self.locals[node.id] = kind
        return self._value(node)

    def _type(self, node: ast.expr) -> str:
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
            if node.func.id == "int":
                return "long"
            return (
                self.whole.returns.get(node.func.id)
                or (self._call(node) and self.whole.returns.get(node.func.id))
                or "double"
            )
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "uint64":
            return "uint64_t"
        if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id in ARRAYS:
            return ARRAYS[node.value.id]
        if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id not in self.types:
            return "long" if self._global(node.value.id).dtype.kind == "i" else "double"
        if isinstance(node, ast.Attribute) and self._is_part(node):
            return f"{PARTS[node.attr]} *"
        if (
            isinstance(node, ast.Attribute)
            and isinstance(node.value, ast.Name)
            and self.types.get(node.value.id) == "Effect *"
        ):
            return "double" if node.attr in {"value", "gate_value"} else "long"
        if isinstance(node, ast.BinOp):
            sides = {self._type(node.left), self._type(node.right)}
            return (
                "uint64_t"
                if "uint64_t" in sides
                else ("long" if sides == {"long"} and not isinstance(node.op, ast.Div) else "double")
            )
        if isinstance(node, ast.Name):
            return self.types.get(node.id) or ("long" if isinstance(self._global(node.id), int) else "double")
        if isinstance(node, ast.Constant):
            return "long" if isinstance(node.value, int) and not isinstance(node.value, bool) else "double"
        if isinstance(node, ast.IfExp):
            return "long" if self._type(node.body) == self._type(node.orelse) == "long" else "double"
        if isinstance(node, (ast.Compare, ast.BoolOp)):
            return "int"
        return "double"

    def _is_part(self, node: ast.Attribute) -> bool:
        """Whether an attribute is a record within the whole state."""
        return isinstance(node.value, ast.Name) and self.types.get(node.value.id) == "State *"

    def _global(self, name: str) -> Any:
        return getattr(self.module, name)

    def _value(self, node: ast.expr) -> str:
        if isinstance(node, ast.Constant):
            if isinstance(node.value, bool):
                return str(int(node.value))
            assert isinstance(node.value, (int, float))
            return repr(node.value) if isinstance(node.value, float) or node.value <= 2**31 else f"{node.value}ULL"
        if isinstance(node, ast.Name):
            if node.id in self.types:
                return _word(node.id)
            value = self._global(node.id)
            if isinstance(value, np.ndarray):
                self.whole.tables[node.id] = value
                return node.id
            return _literal(value)
        if isinstance(node, ast.Attribute):
            if isinstance(node.value, ast.Name) and node.value.id == "np":
                return _literal(getattr(np, node.attr))
            if isinstance(node.value, ast.Name) and node.value.id == "math":
                return _literal(getattr(math, node.attr))
            found = f"{self._value(node.value)}->{node.attr}"
            return f"(&{found})" if self._is_part(node) else found
        if isinstance(node, ast.Subscript):
            return self._subscript(node)
        if isinstance(node, ast.UnaryOp):
            sign = "!" if isinstance(node.op, ast.Not) else "-"
            return f"({sign}{self._value(node.operand)})"
        if isinstance(node, ast.BinOp):
            if isinstance(node.op, ast.Pow):
                if isinstance(node.right, ast.Constant) and node.right.value == 2:
                    return f"(({self._value(node.left)}) * ({self._value(node.left)}))"
                return f"pow({self._value(node.left)}, {self._value(node.right)})"
            left = self._value(node.left)
            # Python's division of whole numbers is not C's.
            cast = "(double)" if isinstance(node.op, ast.Div) and self._type(node.left) in _LONGS else ""
            return f"({cast}{left} {_OPS[type(node.op)]} {self._value(node.right)})"
        if isinstance(node, ast.BoolOp):
            return (
                "("
                + (" && " if isinstance(node.op, ast.And) else " || ").join(self._value(v) for v in node.values)
                + ")"
            )
        if isinstance(node, ast.Compare):
            sides = [self._value(side) for side in (node.left, *node.comparators)]
            pairs = zip(sides, node.ops, sides[1:], strict=False)
            return "(" + " && ".join(f"{a} {_COMPARE[type(op)]} {b}" for a, op, b in pairs) + ")"
        if isinstance(node, ast.IfExp):
            return f"({self._value(node.test)} ? {self._value(node.body)} : {self._value(node.orelse)})"
        if isinstance(node, ast.Call):
            return self._call(node)
        raise NotImplementedError(ast.dump(node))

    def _subscript(self, node: ast.Subscript) -> str:
        base = self._value(node.value)
        if (
            isinstance(node.value, ast.Attribute)
            and node.value.attr == "shape"
            and isinstance(node.value.value, ast.Name)
        ):
            table = node.value.value.id
            if table not in self.types:
                return str(len(self._global(table)))
        if base.endswith("->shape"):
            return "effect_count" if base.startswith("effects") else "frame_count"
        if isinstance(node.slice, ast.Tuple):
            first, second = (self._value(part) for part in node.slice.elts)
            width = self.whole.tables[base].shape[1] if base in self.whole.tables else TEMP_STEPS + 1
            return f"{base}[(long)({first}) * {width} + (long)({second})]"
        index = self._value(node.slice)
        if base in ARRAYS:
            return f"(&{base}[{index}])"
        if base == "flat_lanes":
            return f"(flat_lanes + ({index}) * {len(LANES.names or ())})"
        if base == "present" and self.tree.name == "apply_faults":
            return f"(present + ({index}) * present_columns)"
        return f"{base}[{index}]"

    def _call(self, node: ast.Call) -> str:
        arguments = [self._value(argument) for argument in node.args]
        if isinstance(node.func, ast.Attribute):
            name = node.func.attr
            return f"(uint64_t)({arguments[0]})" if name == "uint64" else f"{_MATH[name]}({', '.join(arguments)})"
        assert isinstance(node.func, ast.Name)
        name = node.func.id
        if name in {"min", "max"}:
            call = arguments[0]
            for other in arguments[1:]:
                call = f"{'lesser' if name == 'min' else 'greater'}({call}, {other})"
            return call
        if name in {"int", "float"}:
            return f"({'long' if name == 'int' else 'double'})({arguments[0]})"
        if name == "abs":
            return f"fabs({arguments[0]})"
        self.whole._function(self._global(name).py_func)
        return f"{name}({', '.join(arguments)})"


def _word(name: str) -> str:
    """A name that C does not keep for itself."""
    return f"{name}_" if name in {"const", "double", "long", "static", "void"} else name


def _parameter(arg: ast.arg) -> str:
    said = ast.unparse(arg.annotation) if arg.annotation else "Any"
    if said == "Any":
        return f"{RECORDS[arg.arg]} *" if arg.arg in RECORDS else ARRAYS.get(arg.arg, "double *")
    if said.startswith("NDArray"):
        return "uint8_t *" if "uint8" in said else "float *" if "float32" in said else "double *"
    return {"float": "double", "int": "long", "bool": "int", "np.uint64": "uint64_t"}[said]


def _returned(node: ast.expr | None) -> str:
    said = ast.unparse(node) if node is not None else "None"
    if said.startswith("tuple"):
        return f"Tuple{said.count('float')}"
    return {"float": "double", "int": "long", "bool": "int", "None": "void", "np.uint64": "uint64_t"}[said]


def _literal(value: Any) -> str:
    if isinstance(value, float) and math.isnan(value):
        return "NAN"
    return repr(float(value)) if isinstance(value, float) else str(int(value))


def _struct(name: str, dtype: np.dtype) -> str:
    kinds = {"f8": "double", "f4": "float", "i8": "int64_t"}
    fields = " ".join(
        (
            f"{kinds[dtype[field].base.str[1:]]} "
            f"{field}{f'[{math.prod(dtype[field].shape)}]' if dtype[field].shape else ''};"
        )
        for field in dtype.names or ()
    )
    return f"typedef struct {{ {fields} }} {name};"


def compiler() -> str | None:
    """The system's C compiler, when there is one."""
    return shutil.which("gcc") or shutil.which("cc")


def build(params: np.dtype) -> ctypes.CDLL:
    """The loop compiled as C, as strict about arithmetic as the model is."""
    folder = Path(tempfile.mkdtemp(prefix="leitfaden-loop-"))
    source, library = folder / "loop.c", folder / "loop.so"
    source.write_text(Translator(step.run).source(params), encoding="utf-8")
    command = [
        str(compiler()),
        "-O3",
        "-march=native",
        "-ffp-contract=off",
        "-shared",
        "-fPIC",
        "-w",
        "-o",
        str(library),
        str(source),
        "-lm",
    ]
    subprocess.run(command, check=True)
    return ctypes.CDLL(str(library))
