"""The short form of `./edrix soak`: kills in a row, and nothing that was acknowledged is lost."""

from ops.soak import soak


def test_nothing_acknowledged_is_lost_or_doubled(worker_id):
    told = soak(students=8, kills=4, every_s=2.0, purpose=f"soak-{worker_id}")
    assert told.lost == []
    assert told.doubled == []
    assert told.kills == 4
    assert len(told.killed) == 4, "each kind of process once"
    assert told.handed_in == 8
    assert told.acknowledged > 8 * 8
    assert told.sent_again > 0, "somebody was in the middle of it"
