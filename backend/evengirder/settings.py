"""Settings, all from the environment that the launcher (or a deployment) provides."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from evengirder.environment import Network, told
from evengirder.trace import logging_settings

BACKEND = Path(__file__).resolve().parent.parent
FRONTEND_DIST = BACKEND.parent / "frontend" / "dist"


DEBUG: bool = told("GIRDER_DEBUG")
SECRET_KEY: str = told("GIRDER_SECRET_KEY")
ALLOWED_HOSTS: list[str] = told("GIRDER_HOSTS")
CSRF_TRUSTED_ORIGINS: list[str] = told("GIRDER_ORIGINS")
# Who encrypts: a proxy in front, or this server itself with a certificate of its own.
BEHIND_TLS, ENCRYPTS = told("GIRDER_TLS"), told("GIRDER_ENCRYPTS")
# Shared with the network it is in, under this address if it has one there (``./girder start --share``).
SHARED, SHARED_AS = told("GIRDER_SHARED"), told("GIRDER_SHARED_AS")
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = BEHIND_TLS or ENCRYPTS
# The proxy that encrypts says so; nobody else reaches a server that listens on loopback.
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_TLS else None
# A watcher on this machine asks without encryption, and is not sent elsewhere.
SECURE_REDIRECT_EXEMPT = [r"^(healthz|readyz|metrics)$"]
SECURE_HSTS_SECONDS = 31_536_000 if BEHIND_TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = BEHIND_TLS
# On loopback nothing goes over a wire, so there is nothing to encrypt; elsewhere a proxy does it (GIRDER_TLS). A
# browser is not told to insist on it for a machine that may be shared without it tomorrow.
SILENCED_SYSTEM_CHECKS = (
    [] if BEHIND_TLS
    else ["security.W004"] if ENCRYPTS
    else ["security.W004", "security.W008", "security.W012", "security.W016"]
)  # fmt: skip
SESSION_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "allauth",
    "allauth.account",
    "allauth.socialaccount",
    "allauth.socialaccount.providers.openid_connect",
    "rest_framework",
    "drf_spectacular",
    "people",
    "challenges",
    "drafting",
    "designs",
    "bench",
    "results",
    "runs",
    "instruments",
    "camera",
    "live",
    "tablets",
    "reports",
    "records",
    "schools",
    "upkeep",
    "demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "evengirder.metrics.Routed",
    "evengirder.reader.ReadersUnits",
    "people.deeds.Noted",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]

ROOT_URLCONF = "evengirder.urls"
ASGI_APPLICATION = "evengirder.asgi.application"
TEMPLATES: list[dict[str, Any]] = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [FRONTEND_DIST, BACKEND / "reports" / "templates", BACKEND / "evengirder" / "templates"],
        "APP_DIRS": False,
    }
]

# A pooler lends a connection for one transaction: what outlives it (a prepared statement, a cursor of the server's, a
# LISTEN) needs the database itself, which is then named beside it.
DB_DIRECT: tuple[str, int] | None = told("GIRDER_DB_DIRECT")
# Connections that a process keeps. A database that is away is sought again as long as somebody asks: left to itself the
# library waits twice as long after each try, and a lesson would go on half a minute after the database did.
POOL: dict[str, Any] = {"min_size": 2, "max_size": 12, "timeout": 4, "reconnect_timeout": 2}
DATABASES: dict[str, dict[str, Any]] = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": told("GIRDER_DB_HOST"),
        "PORT": told("GIRDER_DB_PORT"),
        "NAME": told("GIRDER_DB_NAME"),
        "USER": told("GIRDER_DB_USER"),
        "PASSWORD": told("GIRDER_DB_PASSWORD"),
        # One that a restarted database has forgotten is noticed before it is used.
        "CONN_HEALTH_CHECKS": True,
        "DISABLE_SERVER_SIDE_CURSORS": DB_DIRECT is not None,
        # A database that is away is told within seconds, also one whose host fell silent.
        "OPTIONS": {
            "connect_timeout": 3,
            "keepalives_idle": 5,
            "keepalives_interval": 2,
            "keepalives_count": 3,
            "tcp_user_timeout": 10_000,
            # Who asks for a prepared cursor gets one; the framework's own do not prepare.
            "prepare_threshold": None if DB_DIRECT else 0,
            **({"pool": POOL} if told("GIRDER_DB_POOL") else {}),
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "people.Teacher"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "people.passwords.NotOneWordAgain"},
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("email", "name")},
    },
]

# Schools whose own accounts sign in here, by OpenID Connect. Of the library only that is used: accounts, passwords,
# codes and pages are our own.
SIGN_ONS: list[dict[str, str]] = told("GIRDER_SIGN_ON")
SOCIALACCOUNT_PROVIDERS = {
    "openid_connect": {
        "APPS": [
            {"provider_id": way["school"], "name": way["name"], "client_id": way["client_id"], "secret": way["secret"],
             "settings": {"server_url": way["issuer"], "oauth_pkce_enabled": True}}
            for way in SIGN_ONS
        ],
    }
}  # fmt: skip
SOCIALACCOUNT_ADAPTER = "people.sign_on.Doorkeeper"
SOCIALACCOUNT_ONLY, ACCOUNT_EMAIL_VERIFICATION = True, "none"
SOCIALACCOUNT_STORE_TOKENS = False
SOCIALACCOUNT_REQUESTS_TIMEOUT = 5
ACCOUNT_USER_MODEL_USERNAME_FIELD, ACCOUNT_LOGIN_METHODS, ACCOUNT_SIGNUP_FIELDS = None, {"email"}, ["email*"]
ACCOUNT_DEFAULT_HTTP_PROTOCOL = "https" if BEHIND_TLS or ENCRYPTS else "http"

# Who can make an account: "open", "invited" (with a code of ./girder invite), or "closed".
SIGN_UP: str = told("GIRDER_SIGN_UP")
# Proxies in front, of which what they say about the address of a request is believed.
PROXIES: list[Network] = told("GIRDER_PROXIES")

LANGUAGE_CODE = "en"
USE_I18N = False
USE_TZ = True
TIME_ZONE = "UTC"

# How large a body may be is said at the doors, for each address, before it is read.
DATA_UPLOAD_MAX_MEMORY_SIZE = None
# Photographs; served by views that ask the policy, never as plain files, and read by this server's user alone.
MEDIA_ROOT = Path(told("GIRDER_MEDIA_ROOT") or BACKEND / "media")
S3_BUCKET: str = told("GIRDER_S3_BUCKET")
STORAGES = {
    "default": {
        "BACKEND": "evengirder.photographs.Store",
        "OPTIONS": {"bucket": S3_BUCKET, **{part: told(f"GIRDER_S3_{part.upper()}")
                                            for part in ("address", "region", "key", "secret")}},
    } if S3_BUCKET else {
        "BACKEND": "django.core.files.storage.FileSystemStorage",
        "OPTIONS": {"file_permissions_mode": 0o600, "directory_permissions_mode": 0o700},
    },
    # What everybody gets may be read by whoever serves it.
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage",
        "OPTIONS": {"file_permissions_mode": 0o644, "directory_permissions_mode": 0o755},
    },
}  # fmt: skip
# Whether a teacher may read instruments plugged into the machine that serves; not where many schools share it.
SERIAL_PORTS: bool = told("GIRDER_SERIAL")

STATIC_URL = "/static/"
STATIC_ROOT = Path(told("GIRDER_STATIC_ROOT") or BACKEND / "static")
STATICFILES_DIRS = [FRONTEND_DIST] if FRONTEND_DIST.is_dir() else []


def _named_by_content(path: str, url: str) -> bool:
    """Whether a built file carries a hash of its content in its name, so that browsers may keep it for good."""
    return "/assets/" in url


# The worker, whose reach is what its address says, and what it takes to install the interface as an app.
if (STATIC_ROOT / "root").is_dir():
    WHITENOISE_ROOT = STATIC_ROOT / "root"
WHITENOISE_IMMUTABLE_FILE_TEST = _named_by_content

REST_FRAMEWORK: dict[str, Any] = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["evengirder.entry.SoundJSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "evengirder.errors.handle",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS: dict[str, Any] = {
    "TITLE": "Even Girder",
    "VERSION": "0.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_NAME_OVERRIDES": {
        "SchoolEnum": "challenges.models.SCHOOLS",
        "TrialRuleEnum": "challenges.models.TRIAL_RULES",
        "FamilyEnum": "challenges.entries.FAMILY_KEYS",
        "HazardEnum": "challenges.entries.HAZARD_KEYS",
        "BreachPolicyEnum": "challenges.models.BREACH_POLICIES",
        "PartEnum": "people.models.PARTS",
        "ClassPartEnum": "people.serializers.CLASS_PARTS",
        "UnitSystemEnum": "people.models.UNIT_SYSTEMS",
        "QuantityKindEnum": "challenges.serializers.QUANTITY_KINDS",
        "FactKindEnum": "drafting.serializers.FACT_KINDS",
        "ShapeKindEnum": "challenges.serializers.SHAPE_KINDS",
        "StepKindEnum": "bench.serializers.STEP_KINDS",
        "StepStateEnum": "bench.serializers.STEP_STATES",
        "DesignStateEnum": "runs.serializers.DESIGN_STATES",
        "StationStateEnum": "tablets.station_serializers.STATION_STATES",
        "ShowsEnum": "challenges.serializers.SHOWS",
        "PictureEnum": "challenges.serializers.PICTURES",
        "InkEnum": "results.chart_serializers.INKS",
        "DrawnKindEnum": "results.chart_serializers.DRAWN_KINDS",
        "FactEnum": "bench.serializers.FACTS",
        "WayEnum": "challenges.serializers.WAYS",
        "VerdictKindEnum": "results.serializers.VERDICT_KINDS",
        "PlanEndEnum": "bench.serializers.PLAN_ENDS",
        "SurenessEnum": "results.serializers.SURENESS",
        "EventKindEnum": "bench.models.EVENT_KINDS",
        "AwayEnum": "designs.models.AWAY",
        "PhotoOfEnum": "designs.models.PHOTO_OF",
        "SentPhotoOfEnum": "designs.models.SENT_PHOTO_OF",
        "ScreenEnum": "live.models.SCREENS",
        "BoardActionEnum": "live.serializers.BOARD_ACTIONS",
        "DoorActionEnum": "tablets.serializers.DOOR_ACTIONS",
    },
}
# The folder of the log, if there is one; each process has a file of its own.
LOGS: str = told("GIRDER_LOGS")
LOGGING = logging_settings(LOGS)
TEST_RUNNER = "evengirder.test_runner.CountingRunner"
