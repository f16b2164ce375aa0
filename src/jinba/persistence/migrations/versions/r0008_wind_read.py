"""the wind as it was read at the field, with its time; models signed off

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
    op.create_table(
        'sign_off',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('log_order', sa.BigInteger(), server_default=sa.text("nextval('log_order')"), nullable=False),
        sa.Column('model_id', sa.Uuid(), sa.ForeignKey('model.id', ondelete='CASCADE'), nullable=False),
        sa.Column('sortie_id', sa.Uuid(), sa.ForeignKey('sortie.id', ondelete='CASCADE'), nullable=True),
        sa.Column('signed_by', sa.String(), nullable=False),
        sa.Column('remark', sa.String(), nullable=False),
        sa.Column('missing', sa.ARRAY(sa.Text()), nullable=False),
        sa.Column('request_hash', sa.String(), nullable=True),
        sa.Column('signed_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False),
        sa.Column('taken_back_at', sa.DateTime(timezone=True), nullable=True),
        sa.UniqueConstraint('log_order'),
    )
    op.create_index('ix_sign_off_model_id', 'sign_off', ['model_id'])
    op.create_index('ix_sign_off_sortie_id', 'sign_off', ['sortie_id'])


def downgrade() -> None:
    op.drop_table('sign_off')
    op.drop_table('wind_reading')
