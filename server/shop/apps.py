"""The application as Django knows it."""

from django.apps import AppConfig


class ShopConfig(AppConfig):
    name = "shop"
    default_auto_field = "django.db.models.BigAutoField"
