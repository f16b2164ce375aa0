"""models can be put away

The time at which a model was put away; none while it stands on the shelf.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = '0004'
down_revision = '0003'


def upgrade() -> None:
    op.add_column('model', sa.Column('put_away_at', sa.DateTime(timezone=True), nullable=True))


def downgrade() -> None:
    op.drop_column('model', 'put_away_at')
