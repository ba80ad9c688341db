"""One passphrase for everybody on the home network; whoever knows it is the photographer."""

from django.contrib.auth import get_user_model, password_validation

from chimney.ledger.once import verb

PHOTOGRAPHER = "photographer"


@verb
def set_passphrase(passphrase):
    """Keep it as its hash. Raises ValidationError for one that is too short or too common."""
    password_validation.validate_password(passphrase)
    user, _ = get_user_model().objects.get_or_create(username=PHOTOGRAPHER)
    user.set_password(passphrase)
    user.save()


def is_set():
    return get_user_model().objects.filter(username=PHOTOGRAPHER).exists()
