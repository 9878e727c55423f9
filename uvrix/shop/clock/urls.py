"""Addresses of time, worth and tasks."""

from django.urls import path

from uvrix.shop.clock import api

urlpatterns = [
    path("jobs/<int:number>/time", api.JobTime.as_view(), name="job-time"),
    path("jobs/<int:number>/clock", api.JobClock.as_view(), name="job-clock"),
    path("jobs/<int:number>/worth", api.JobWorthView.as_view(), name="job-worth"),
    path("jobs/<int:number>/tasks", api.JobTasks.as_view(), name="job-tasks"),
    path("clock", api.MyClock.as_view(), name="my-clock"),
    path("clocks/<uuid:span>/minutes", api.ClockMinutes.as_view(), name="clock-minutes"),
    path("tasks", api.Tasks.as_view(), name="tasks"),
    path("tasks/<uuid:task>/taken", api.TaskTaken.as_view(), name="task-taken"),
    path("tasks/<uuid:task>/done", api.TaskDone.as_view(), name="task-done"),
    path("money", api.MoneyView.as_view(), name="money"),
    path("writing", api.WritingView.as_view(), name="writing"),
]
