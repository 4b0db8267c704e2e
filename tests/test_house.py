"""The house rules: lint, arrows, types, templates, production settings, migrations, docstrings, unfinished work."""

import ast
import importlib
import inspect
import os
import pkgutil
import re
import subprocess
import sys
from pathlib import Path
from types import SimpleNamespace

from django.conf import settings
from django.test import SimpleTestCase

from emplastra.shared.services import Refused, writes

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent


def run(*command, **env):
    """Run a tool in the project; its output on failure."""
    done = subprocess.run(
        command,
        cwd=ROOT,
        capture_output=True,
        text=True,
        env={k: v for k, v in {**os.environ, **env}.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"},
    )
    return "" if done.returncode == 0 else done.stdout[-4000:] + done.stderr[-4000:]


class LintTests(SimpleTestCase):
    def test_ruff(self):
        self.assertEqual(run(BIN / "ruff", "check", "--output-format", "concise", "."), "")
        self.assertEqual(run(BIN / "ruff", "format", "--check", "."), "")

    def test_arrows_go_one_way(self):
        self.assertEqual(run(BIN / "lint-imports", "--no-cache"), "")

    def test_types_of_the_core(self):
        self.assertEqual(run(BIN / "mypy"), "")

    def test_templates(self):
        self.assertEqual(run(BIN / "djlint", "emplastra", "--lint", "--quiet"), "")

    def test_production_settings(self):
        env = {"DJANGO_SETTINGS_MODULE": "emplastra.config.settings.production", "EMPLASTRA_HOSTS": "shop.example", "EMPLASTRA_SECRET_KEY": "k" * 25 + "0123456789abcdefghijklmnopqrstuvwxyz"}  # fmt: skip
        self.assertEqual(run(sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING", **env), "")

    def test_migrations_are_in_step(self):
        self.assertEqual(run(sys.executable, "manage.py", "makemigrations", "--check", "--dry-run"), "")


class TemplateTests(SimpleTestCase):
    def test_nothing_that_the_content_policy_would_drop(self):
        bad = re.compile(r"\sstyle=|<script(?![^>]*\bsrc=)|\son\w+=|hx-on|hx-trigger=\"[^\"]*\[|javascript:")
        for path in (ROOT / "emplastra").rglob("*.html"):
            with self.subTest(path.name):
                self.assertEqual(bad.findall(path.read_text()), [])

    def test_the_policy(self):
        policy = settings.CONTENT_SECURITY_POLICY["DIRECTIVES"]
        self.assertEqual(policy["default-src"], ["'self'"])
        self.assertNotIn("script-src", policy)


class CoreTests(SimpleTestCase):
    def public(self):
        """(module, function node) of every public function and method in the core."""
        for path in sorted((ROOT / "emplastra" / "core").rglob("*.py")):
            for node in ast.parse(path.read_text()).body:
                if not isinstance(node, ast.FunctionDef | ast.ClassDef) or node.name.startswith("_"):
                    continue
                yield path.name, node
                for inner in getattr(node, "body", []) if isinstance(node, ast.ClassDef) else []:
                    if isinstance(inner, ast.FunctionDef) and not inner.name.startswith("_"):
                        yield path.name, inner

    def test_every_public_thing_has_a_docstring(self):
        missing = [f"{name}:{node.name}" for name, node in self.public() if not ast.get_docstring(node)]
        self.assertEqual(missing, [])

    UNITS = {
        "um": "µm", "mm": "mm", "m2": "m2|m²", "ml": "mL", "g": r"\bg\b", "c": "°C", "k": r"\bK\b", "pct": "%", "hpa": "hPa",
        "s": r"\[(epoch )?s\]|epoch s", "min": r"\bmin\b", "h": r"\bh\b|[Hh]ours", "hours": r"\bh\b|[Hh]ours",
    }  # fmt: skip

    def test_arguments_with_a_unit_in_their_name_are_documented_in_it(self):
        """A name that ends in _um, _m2 ... has that unit in its function's docstring, and never another beside it."""
        asked = 0
        for name, node in self.public():
            if not isinstance(node, ast.FunctionDef):
                continue
            text = inspect.cleandoc(ast.get_docstring(node) or "")
            for argument in (*node.args.args, *node.args.kwonlyargs):
                suffix = argument.arg.rsplit("_", 1)[-1]
                if suffix not in self.UNITS or "_" not in argument.arg:
                    continue
                asked += 1
                with self.subTest(f"{name}:{node.name}.{argument.arg}"):
                    self.assertRegex(text, self.UNITS[suffix])
                    found = re.search(rf"\b{argument.arg}\b[^.;\n]*?\[[^\]]+\]", text)
                    if found:
                        self.assertRegex(found[0], self.UNITS[suffix])
        self.assertGreater(asked, 150)


class LineTests(SimpleTestCase):
    def sources(self, pattern):
        paths = [p for p in sorted((ROOT / "emplastra").rglob(pattern)) if "migrations" not in p.parts and "vendor" not in p.parts]  # fmt: skip
        return [(p.relative_to(ROOT).as_posix(), p.read_text()) for p in paths]

    def test_lines_stay_readable_outside_tables(self):
        """120 characters; 160 in templates. A table is a value of a module over several lines."""
        for name, text in self.sources("*.py"):
            tables, skips = set(), []
            for node in ast.parse(text).body:
                if isinstance(node, ast.Assign | ast.AnnAssign) and node.value and node.end_lineno - node.lineno >= 3:
                    tables |= set(range(node.lineno, node.end_lineno + 1))
            for number, line in enumerate(text.split("\n"), 1):
                if number not in tables:
                    self.assertLessEqual(len(line), 120, f"{name}:{number}")
                    skips += [number] if "fmt: skip" in line else []
            self.assertEqual(skips, [], name)
        for name, text in self.sources("*.html"):
            self.assertLessEqual(max(map(len, text.split("\n"))), 160, name)


BRANCHES = (ast.If, ast.For, ast.While, ast.ExceptHandler, ast.IfExp, ast.comprehension, ast.Assert)


def complexity(function):
    """Ways through a function: one, one more for each branch, each further condition, each filter of a comprehension."""
    nodes = list(ast.walk(function))
    ways = 1 + sum(isinstance(node, BRANCHES) for node in nodes)
    ways += sum(len(node.values) - 1 for node in nodes if isinstance(node, ast.BoolOp))
    return ways + sum(len(node.ifs) for node in nodes if isinstance(node, ast.comprehension))


_SIDE_BY_SIDE = "the figures of a page or a value side by side: nothing hangs on what went before"
_IN_TURN = "one question after another, in the order in which they outrank each other"
_MENDING = "one decision, whether what is kept may be mended, and how far back"
REASONS = {
    "state.faces._sealer": _IN_TURN,
    "say.acts._own_act": _IN_TURN,
    "say.window.window_view": _IN_TURN,
    "metal.worked._planned": _IN_TURN,
    "metal.rule_views.strip_plan": _SIDE_BY_SIDE,
    "metal.treat_views.treat": _SIDE_BY_SIDE,
    "bench.windows.view": _SIDE_BY_SIDE,
    "survey.finding_views.findings": _SIDE_BY_SIDE,
    "bench.selectors.bench": _SIDE_BY_SIDE,
    "survey.file_views.report": _SIDE_BY_SIDE,
    "shelf.forms._lists": _SIDE_BY_SIDE,
    "shelf.shown._told": _SIDE_BY_SIDE,
    "shelf.shown.comparison": _SIDE_BY_SIDE,
    "survey.selectors.job_map": _SIDE_BY_SIDE,
    "work.coat_views.told": _SIDE_BY_SIDE,
    "climate.live.kept": _MENDING,
    "climate.live._make": _MENDING,
    "climate.live._again": _MENDING,
    "climate.live.sources_of": _MENDING,
    "state.facts._place": _MENDING,
    "state.lifeline._draw": _IN_TURN,
    "metal.access_views.access_act": _IN_TURN,
}
"""Functions outside the core with more than twelve ways through them, and why."""


class ComplexityTests(SimpleTestCase):
    def test_no_function_has_more_than_twelve_ways_but_for_a_reason(self):
        found = set()
        for path in sorted((ROOT / "emplastra").rglob("*.py")):
            module = ".".join(path.relative_to(ROOT / "emplastra").with_suffix("").parts)
            tree = ast.parse(path.read_text()) if "migrations" not in path.parts else ast.Module([])
            found |= {
                f"{module}.{n.name}" for n in ast.walk(tree) if isinstance(n, ast.FunctionDef) and complexity(n) > 12
            }
        self.assertEqual(found, set(REASONS))

    def test_few_functions_of_the_core_have_more_than_ten_ways_through_them(self):
        paths = (ROOT / "emplastra" / "core").rglob("*.py")
        functions = [n for p in paths for n in ast.walk(ast.parse(p.read_text())) if isinstance(n, ast.FunctionDef)]
        many = {node.name: complexity(node) for node in functions if complexity(node) > 10}
        self.assertLess(len(many) / len(functions), 0.05, many)
        self.assertEqual(complexity(ast.parse("def f(a):\n  if a and a > 1:\n    return [x for x in a if x]")), 5)


class UnfinishedTests(SimpleTestCase):
    def test_no_mark_of_unfinished_work_is_left(self):
        bad = re.compile(r"\bTODO\b|\bFIXME\b|XXX")
        for path in (ROOT / "emplastra").rglob("*.py"):
            with self.subTest(path.name):
                self.assertIsNone(bad.search(path.read_text()))


class RequestTests(SimpleTestCase):
    def test_ids_and_counts_of_a_request_are_read_in_one_place(self):
        """`²` is a digit to str.isdigit and none to int: nobody reads a number out of a request by hand."""
        bad = re.compile(r"\.is(?:digit|numeric)\(\)|\b(?:int|float)\([^()]*request\.(?:GET|POST)")
        for path in (ROOT / "emplastra").rglob("*.py"):
            if "core" in path.parts or path.name in {"serve.py", "registers.py"}:
                continue
            with self.subTest(path.name):
                self.assertEqual(bad.findall(path.read_text()), [])


class RightsTests(SimpleTestCase):
    def test_services_that_record_what_a_user_does_check_the_right_themselves(self):
        """A function of a service module that takes a user is marked, but for those below it that check more."""
        modules = ["climate.services", "jobs.services", "logbook.services", "materials.services", "jobs.surveying", "jobs.registers", "jobs.access_plans", "jobs.estimates", "jobs.judging", "jobs.mapping", "jobs.photos", "jobs.survey_files"]  # fmt: skip
        found = 0
        for name in modules:
            module = importlib.import_module(f"emplastra.{name}")
            for each, service in inspect.getmembers(module, inspect.isfunction):
                if service.__module__ != module.__name__ or each.startswith("_") or "user" not in inspect.signature(service).parameters:  # fmt: skip
                    continue
                found += 1
                with self.subTest(f"{name}.{each}"):
                    self.assertTrue(getattr(service, "needs_the_right_to_write", False))
        self.assertGreater(found, 30)

    def test_who_may_only_look_is_refused_before_anything_is_done(self):
        done = []
        service = writes(lambda zone, user, name="": done.append(name))
        looker, writer = SimpleNamespace(may_write=False), SimpleNamespace(may_write=True)
        for call in (lambda: service(1, looker), lambda: service(1, user=looker)):
            with self.assertRaises(Refused):
                call()
        service(1, writer, name="kept")
        service(1, None, name="the demo")
        self.assertEqual(done, ["kept", "the demo"])


class ArchitectureTests(SimpleTestCase):
    def test_what_the_page_on_the_layout_names_is_there(self):
        text = (ROOT / "docs" / "architecture.md").read_text()
        names = sorted(set(re.findall(r"`(emplastra(?:\.\w+)+)`", text)))
        self.assertGreater(len(names), 50)
        for name in names:
            with self.subTest(name):
                self.assertIsNotNone(pkgutil.resolve_name(name))

    def test_every_room_is_on_the_page(self):
        text = (ROOT / "docs" / "architecture.md").read_text()
        for folder in sorted(p.parent for p in (ROOT / "emplastra").glob("*/__init__.py")):
            with self.subTest(folder.name):
                self.assertIn(f"`emplastra.{folder.name}`", text)


class SecurityPageTests(SimpleTestCase):
    def test_what_the_page_on_safety_names_is_there(self):
        """Modules, files, and classes of tests: a requirement that says which test holds it has one."""
        named = set(re.findall(r"`([^`\n]+)`", (ROOT / "docs" / "security.md").read_text()))
        tests = "".join(path.read_text() for path in (ROOT / "tests").rglob("*.py"))
        for name in sorted(named):
            with self.subTest(name):
                if re.fullmatch(r"(?:emplastra|tests)(?:\.\w+)+", name):
                    self.assertIsNotNone(pkgutil.resolve_name(name))
                elif re.fullmatch(r"\w+Tests", name):
                    self.assertIn(f"class {name}(", tests)
                elif "/" in name and not name.startswith(("/", "'")):
                    self.assertTrue((ROOT / name).exists())
        self.assertGreater(sum(name.endswith("Tests") for name in named), 20)
