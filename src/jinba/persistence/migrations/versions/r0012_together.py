"""how likely every behaviour lies in its band at once, and how likely a cause is a fault and the largest, as computed with an estimate

Estimates before this one were not asked: theirs is null, and no cause of theirs has a twin.
"""

import sqlalchemy as sa
from alembic import op

revision = '0012'
down_revision = '0011'


def upgrade() -> None:
    op.add_column('estimate', sa.Column('together', sa.Double(), nullable=True))
    op.add_column('cause', sa.Column('chance', sa.Double(), nullable=True))
    op.add_column('cause', sa.Column('twin', sa.String(), nullable=False, server_default=''))
    op.create_check_constraint('together', 'estimate', 'together >= 0 AND together <= 1')


def downgrade() -> None:
    op.drop_column('cause', 'twin')
    op.drop_column('cause', 'chance')
    op.drop_constraint('together', 'estimate')
    op.drop_column('estimate', 'together')
