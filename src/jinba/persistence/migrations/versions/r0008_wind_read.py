"""the wind as it was read at the field, with its time

What a sortie was planned in stays with the sortie; nothing was kept of a wind in which nobody flew.
"""

import sqlalchemy as sa
from alembic import op

revision = '0008'
down_revision = '0007'


def upgrade() -> None:
    op.create_table(
        'wind_reading',
        sa.Column('id', sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column('model_id', sa.Uuid(), sa.ForeignKey('model.id', ondelete='CASCADE'), nullable=False),
        sa.Column('wind_mps', sa.Float(), nullable=False),
        sa.Column('gust_mps', sa.Float(), nullable=False),
        sa.Column('from_rad', sa.Float(), nullable=False),
        sa.Column('strip_heading_rad', sa.Float(), nullable=False),
        sa.Column('read_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False),
        sa.CheckConstraint('wind_mps >= 0 AND gust_mps >= wind_mps', name='wind'),
    )
    op.create_index('ix_wind_reading_newest', 'wind_reading', ['model_id', 'id'])


def downgrade() -> None:
    op.drop_table('wind_reading')
