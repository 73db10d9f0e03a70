"""Formulas as TeX, as they are written by hand: from the one text from which they are computed."""

import ast

from leitfaden_core.workings.working import Values, significant

_GREEK = {"lam": r"\lambda", "rho": r"\rho", "eta": r"\eta"}
_BINDS = {ast.Add: 1, ast.Sub: 1, ast.Mult: 2, ast.Div: 4, ast.Pow: 3}
_SIGNS = {ast.Add: " + ", ast.Sub: " - ", ast.Mult: r" \cdot "}


def symbol_tex(name: str) -> str:
    """A symbol with its index below the line.

    >>> symbol_tex("p_Pa"), symbol_tex("rho_m"), symbol_tex("T")
    ('p_{\\\\mathrm{Pa}}', '\\\\rho_{\\\\mathrm{m}}', 'T')
    """
    head, _, index = name.partition("_")
    told = _GREEK.get(head) or (head if len(head) == 1 else rf"\mathrm{{{head}}}")
    return rf"{told}_{{\mathrm{{{index}}}}}" if index else told


def tex(formula: str, values: Values | None = None) -> str:
    """A formula as TeX; with values its numbers put in.

    >>> tex("p_Pa / (287.05 * T)", {"p_Pa": 100000.0, "T": 293.15})
    '\\\\frac{100000}{287.05 \\\\cdot 293.15}'
    >>> tex("(a - b) * c ** 2"), tex("sqrt(4 * A / 3.14159265)")
    ('\\\\left(a - b\\\\right) \\\\cdot c^{2}', '\\\\sqrt{\\\\frac{4 \\\\cdot A}{3.14159265}}')
    """
    return _written(ast.parse(formula, mode="eval").body, values or {})


def _written(node: ast.expr, values: Values) -> str:
    match node:
        case ast.Constant():
            return significant(float(node.value), 9) if isinstance(node.value, int | float) else str(node.value)
        case ast.Name():
            value = values.get(node.id)
            if value is None:
                return symbol_tex(node.id)
            text = significant(value, 6)
            return rf"\left({text}\right)" if value < 0 else text
        case ast.UnaryOp(op=ast.USub()):
            return "-" + _inside(node.operand, 2, values)
        case ast.BinOp(op=ast.Div()):
            return rf"\frac{{{_written(node.left, values)}}}{{{_written(node.right, values)}}}"
        case ast.BinOp(op=ast.Pow()):
            return f"{_inside(node.left, 4, values)}^{{{_written(node.right, values)}}}"
        case ast.BinOp():
            binds = _BINDS[type(node.op)]
            # What is taken away from keeps its brackets on the right.
            right = binds + 1 if isinstance(node.op, ast.Sub) else binds
            return f"{_inside(node.left, binds, values)}{_SIGNS[type(node.op)]}{_inside(node.right, right, values)}"
        case ast.Call(func=ast.Name(id="sqrt")):
            return rf"\sqrt{{{_written(node.args[0], values)}}}"
        case ast.Call(func=ast.Name(id="abs")):
            return rf"\left|{_written(node.args[0], values)}\right|"
        case ast.Call(func=ast.Name(id=name)):
            arguments = ",\\ ".join(_written(argument, values) for argument in node.args)
            return rf"\{name}\left({arguments}\right)"
    raise ValueError(f"no way is known to write {ast.dump(node)}")


def _inside(node: ast.expr, binds: int, values: Values) -> str:
    """A part of a product, sum or power: in brackets where it binds less."""
    text = _written(node, values)
    weak = isinstance(node, ast.BinOp) and _BINDS[type(node.op)] < binds
    fraction = isinstance(node, ast.BinOp) and isinstance(node.op, ast.Div) and binds == _BINDS[ast.Div]
    return rf"\left({text}\right)" if weak or fraction else text
