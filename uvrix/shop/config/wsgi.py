"""What the application server runs."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uvrix.shop.config.settings")
application = get_wsgi_application()
