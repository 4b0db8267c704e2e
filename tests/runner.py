"""Django's test runner, ending with one plain line and refusing a run of no tests."""

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Prints "N passed, N failed" last."""

    def suite_result(self, suite, result, **kwargs):
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        self.closing = f"{result.testsRun - failed} passed, {failed} failed"
        if result.testsRun == 0:
            self.closing, failed = "0 passed, 0 failed: no test was found", 1
        return failed

    def run_tests(self, *args, **kwargs):
        failed = super().run_tests(*args, **kwargs)
        print(self.closing)
        return failed
