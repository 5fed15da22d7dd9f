"""People who sign in. What a person may do in a class is its membership."""

from typing import ClassVar

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models
from django.db.models.functions import Lower


class UserManager(BaseUserManager["User"]):
    def get_by_natural_key(self, username: str | None) -> "User":
        """Sign-in names are kept in lower case; people type them as they like."""
        return self.get(sign_in_name=(username or "").strip().lower())


class User(AbstractBaseUser):
    sign_in_name = models.CharField(max_length=60, unique=True)
    display_name = models.CharField(max_length=120)
    may_teach = models.BooleanField(default=False)
    """May make classes, engines and stands; in a class, the membership decides."""
    has_taught = models.BooleanField(default=False)
    """Belongs to the school's instructors, also where the right to teach was taken away."""
    is_head = models.BooleanField(default=False)
    """Looks after the school's instructors: adds them, renews passcodes, takes rights away."""
    unit = models.CharField(max_length=4, default="mm")
    is_active = models.BooleanField(default=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects = UserManager()
    USERNAME_FIELD = "sign_in_name"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["display_name"]

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(unit__in=["mm", "thou"]), name="user_unit_known"
            ),
            models.CheckConstraint(
                condition=models.Q(is_head=False) | models.Q(may_teach=True),
                name="user_head_teaches",
            ),
            models.CheckConstraint(
                condition=models.Q(sign_in_name=Lower("sign_in_name")),
                name="user_sign_in_name_lower",
            ),
        ]

    def __str__(self) -> str:
        return self.sign_in_name
