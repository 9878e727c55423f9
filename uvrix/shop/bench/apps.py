"""The app `bench`."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """Named so that Django finds it."""

    name = "uvrix.shop.bench"
    label = "bench"

    def ready(self) -> None:
        """A board that was drawn or corrected moves the findings of its open jobs."""
        from uvrix.shop.bench.services import judge_model_again
        from uvrix.shop.library.models import BoardModel
        from uvrix.shop.library.signals import board_changed

        def judge(model: BoardModel, **_: object) -> None:
            judge_model_again(model)

        board_changed.connect(judge, weak=False, dispatch_uid="judge-model-again")
