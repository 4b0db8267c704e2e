"""Who may do what: one table of addresses, which the door asks before any view, and templates before any button.

Services check again what they record, so that nothing depends on the door alone.
"""

from enum import Enum

from emplastra.shared.middleware import SAFE

from .models import Role


class Right(Enum):
    """What an address asks for: who may look at it, and who may send to it (None: whoever comes)."""

    OPEN = (None, None)
    OWN = (frozenset(Role), frozenset(Role))
    WORK = (frozenset(Role), frozenset({Role.OWNER, Role.REFINISHER}))
    DECIDE = (frozenset(Role), frozenset({Role.OWNER}))
    OWNER = (frozenset({Role.OWNER}), frozenset({Role.OWNER}))

    def allows(self, role, method):
        """True if somebody in this role may send by this method."""
        roles = self.value[method not in SAFE]
        return roles is None or role in roles


#: Whoever comes: the door itself, and private addresses that nobody guesses.
_OPEN = (
    "accounts:sign-in accounts:second accounts:first-run accounts:health accounts:choose-password "
    "days:feed handover:owner handover:looks"
)
#: What concerns nobody but whoever does it.
_OWN = (
    "accounts:sign-out accounts:gloves accounts:you accounts:own-password accounts:factor accounts:factor-off "
    "accounts:end-session accounts:end-others days:calendar days:revoke practice:start practice:run practice:again"
)
#: Seen by all; done by an owner: what is decided, put away, given out, or holds for the whole workshop.
_DECIDE = (
    "metal:decide jobs:file jobs:remove materials:retire plans:retire-system tins:lift "
    "handover:make-link handover:revoke handover:make-archive handover:bring"
)
#: An owner's alone, to look at as well.
_OWNER = (
    "accounts:settings accounts:people accounts:add-person accounts:toggle-person accounts:role accounts:new-password "
    "accounts:drop-factor accounts:sign-out-person accounts:log accounts:log-csv "
    "climate:places climate:add-place climate:edit-place scales:list scales:new scales:edit "
    "handover:zip upkeep:keeping upkeep:backup"
)

TABLE = {
    name: right
    for right, names in ((Right.OPEN, _OPEN), (Right.OWN, _OWN), (Right.DECIDE, _DECIDE), (Right.OWNER, _OWNER))
    for name in names.split()
}
"""{name of an address: Right}; what is not in it is WORK: all look, owners and refinishers send."""


def right_of(name):
    """The Right that an address (its name) asks for."""
    return TABLE.get(name, Right.WORK)


def may(user, name, method="POST"):
    """True if somebody may send to an address (its name); of somebody who has not signed in, if all may."""
    role = Role(user.role) if user.is_authenticated else None
    return right_of(name).allows(role, method)
