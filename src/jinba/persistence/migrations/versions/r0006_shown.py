"""how each behaviour is known

Seen in its band, seen outside, inferred or not known: nobody wrote it down so far, so it stays empty until it is recomputed.
"""

import sqlalchemy as sa
from alembic import op

revision = '0006'
down_revision = '0005'


def upgrade() -> None:
    op.add_column('behaviour', sa.Column('shown', sa.String(), nullable=True))


def downgrade() -> None:
    op.drop_column('behaviour', 'shown')
