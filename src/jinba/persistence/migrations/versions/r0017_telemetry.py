"""a reading that was taken from telemetry says so"""

import sqlalchemy as sa
from alembic import op

revision = '0017'
down_revision = '0016'


def upgrade() -> None:
    op.add_column('reading', sa.Column('telemetry', sa.Boolean(), server_default=sa.false(), nullable=False))


def downgrade() -> None:
    op.drop_column('reading', 'telemetry')
