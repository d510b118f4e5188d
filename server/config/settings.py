"""Django settings. Read ``env.py`` for what a machine may change."""

from datetime import timedelta

from csp.constants import NONCE, NONE, SELF

from server.config.env import ENV, ROOT
from server.config.logs import set_up as set_up_logs

# A throw-away key is enough to build or check; ./start always gives a kept one.
SECRET_KEY = ENV.secret_key or "not-for-serving-" + "0" * 40
DEBUG = ENV.debug
ALLOWED_HOSTS = list(ENV.hosts)
ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"  # each workshop has its own zone
LANGUAGE_CODE = "en"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "rest_framework",
    "drf_spectacular",
    "axes",
    "csp",
    "procrastinate.contrib.django",
    "server.workshops",
    "server.supplies",
    "server.recipes",
    "server.orders",
    "server.carriers",
    "server.weather",
    "server.plans.apps.PlansConfig",
    "server.bench",
    "server.standins",
    "server.care",
    "server.day",
    "server.outcomes.apps.OutcomesConfig",
    "server.channels",
    "server.buying",
    "server.money",
    "server.upkeep",
    "server.beginning",
    "server.commands",
]
MIDDLEWARE = [
    "server.config.logs.RequestLog",
    "server.config.headers.ApiHeaders",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": ENV.db_host,
        "PORT": ENV.db_port,
        "NAME": ENV.db_name,
        "USER": ENV.db_user,
        "PASSWORD": ENV.db_password,
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        # Who waits too long is told to try again (503), instead of holding up the rest (api.problems).
        "OPTIONS": {
            "options": f"-c lock_timeout={ENV.lock_seconds}s -c statement_timeout={ENV.statement_seconds}s",
        },
    }
}
# Tries at the door are counted once for all processes.
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.db.DatabaseCache", "LOCATION": "calm_cache"},
}

# --- people ---
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"max_similarity": 0.6},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_CLIENT_IP_CALLABLE = "server.config.headers.client_address"
AXES_LOCKOUT_CALLABLE = "server.api.problems.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = ENV.secure
CSRF_FAILURE_VIEW = "server.api.errors.csrf_failed"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
if ENV.secure:  # a proxy of ours ends the encryption: docs/operate.md
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = True
    SECURE_HSTS_SECONDS = 365 * 24 * 3600
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = True
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

# --- files ---
STATIC_URL = "/static/"
STATIC_ROOT = ENV.static_root
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[\w-]{8}\.\w+$"
DATA_UPLOAD_MAX_MEMORY_SIZE = 12 * 1024 * 1024

# --- API ---
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["server.api.access.TokenAccess", "server.api.access.MemberSession"],
    "DEFAULT_PERMISSION_CLASSES": ["server.api.access.IsMember"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.api.parsing.BoundedJSON"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "server.api.problems.to_problem",
    "DEFAULT_THROTTLE_CLASSES": ["server.api.access.TokenThrottle"],
    "DEFAULT_THROTTLE_RATES": {"sign_in": "30/minute", "token": "120/minute", "buyer_page": "20/minute"},
    "NUM_PROXIES": ENV.proxies,
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Calm Cupboard",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["server.api.access.IsMember"],
    "SCHEMA_PATH_PREFIX": "/api/",
    "POSTPROCESSING_HOOKS": [
        "server.api.schema.plain_tuples",
        "server.api.schema.messages_as_text",
        "server.api.schema.plain_times",
    ],
}

# --- what is written down ---
set_up_logs()
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {
        "console": {"class": "logging.StreamHandler"},
        "lines": {"class": "logging.StreamHandler", "formatter": "line"},
    },
    "formatters": {"line": {"format": "%(message)s"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "axes": {"level": "ERROR"},
        "django.request": {"level": "ERROR"},
        "procrastinate": {"level": "WARNING"},
        "calm": {"handlers": ["lines"], "level": ENV.log_level, "propagate": False},
    },
}
