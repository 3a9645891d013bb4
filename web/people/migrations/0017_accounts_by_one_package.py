"""Addresses, open sessions and second steps move into the tables of the package that now looks after accounts."""

from base64 import b32encode

from django.db import migrations

OTP_TABLES = ("otp_static_statictoken", "otp_static_staticdevice", "otp_totp_totpdevice")  # what refers to others goes first


def addresses(apps, schema_editor):
    EmailAddress = apps.get_model("account", "EmailAddress")
    users = apps.get_model("people", "User").objects
    EmailAddress.objects.bulk_create(
        EmailAddress(user=user, email=user.email, primary=True, verified=user.is_active) for user in users.iterator()
    )
    users.filter(is_active=False).update(is_active=True)  # who never opened the link of the mail: the address says so now


def sessions(apps, schema_editor):
    rows = apps.get_model("people", "OpenSession").objects.iterator()
    UserSession = apps.get_model("usersessions", "UserSession")
    UserSession.objects.bulk_create(
        UserSession(
            user_id=row.user_id,
            session_key=row.session_key,
            created_at=row.began_at,
            last_seen_at=row.began_at,
            ip=row.address or "127.0.0.1",
            user_agent=row.machine,
        )
        for row in rows
    )


def second_steps(apps, schema_editor):
    connection = schema_editor.connection
    if not set(OTP_TABLES) <= set(connection.introspection.table_names()):
        return
    Authenticator = apps.get_model("mfa", "Authenticator")
    with connection.cursor() as cursor:
        cursor.execute("SELECT user_id, key FROM otp_totp_totpdevice WHERE confirmed")
        for user, key in cursor.fetchall():
            secret = b32encode(bytes.fromhex(key)).decode()
            if Authenticator.objects.filter(user_id=user, type="totp").exists():
                continue
            Authenticator.objects.create(user_id=user, type="totp", data={"secret": secret})
            cursor.execute(
                "SELECT token FROM otp_static_statictoken JOIN otp_static_staticdevice ON otp_static_staticdevice.id = device_id WHERE user_id = %s",
                [user],
            )
            codes = [token for (token,) in cursor.fetchall()]
            Authenticator.objects.create(user_id=user, type="recovery_codes", data={"migrated_codes": codes, "viewed_at": 1})
    for table in OTP_TABLES:
        schema_editor.execute(f"DROP TABLE {connection.ops.quote_name(table)}")


def nothing(apps, schema_editor):
    """What was moved is not moved back."""


class Migration(migrations.Migration):
    dependencies = [
        ("people", "0016_waved_off"),
        ("account", "0009_emailaddress_unique_primary_email"),
        ("mfa", "0003_authenticator_type_uniq"),
        ("usersessions", "0001_initial"),
    ]

    operations = [
        migrations.RunPython(addresses, nothing),
        migrations.RunPython(sessions, nothing),
        migrations.RunPython(second_steps, nothing),
    ]
