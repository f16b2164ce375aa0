"""packs with what is written on them, which one is to fly, and what flights took from them

Packs that were known by their name alone stay so; sorties that have flown keep the minutes they were planned with.
"""

import sqlalchemy as sa
from alembic import op

revision = '0014'
down_revision = '0013'


def upgrade() -> None:
    for column in ('rating_per_h', 'resistance_ohm', 'mass_kg'):
        op.add_column('pack', sa.Column(column, sa.Float(), nullable=True))
    op.add_column('pack', sa.Column('put_away_at', sa.DateTime(timezone=True), nullable=True))
    op.execute("UPDATE pack SET chemistry = '' WHERE cells IS NULL OR capacity_c IS NULL")
    op.create_check_constraint(
        op.f('ck_pack_described'), 'pack', "chemistry = '' OR (cells >= 1 AND capacity_c > 0)"
    )
    for column in ('cell_v', 'safe_minutes'):
        op.add_column('sortie', sa.Column(column, sa.Float(), nullable=True))
    op.create_table(
        'pack_fitted',
        sa.Column('id', sa.Integer(), autoincrement=True, nullable=False),
        sa.Column('model_id', sa.Uuid(), nullable=False),
        sa.Column('pack_id', sa.Uuid(), nullable=False),
        sa.Column('cell_v', sa.Float(), nullable=True),
        sa.Column('full_throttle_a', sa.Float(), nullable=True),
        sa.Column(
            'fitted_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False
        ),
        sa.CheckConstraint('cell_v > 0 AND full_throttle_a > 0', name=op.f('ck_pack_fitted_read')),
        sa.ForeignKeyConstraint(
            ['model_id'], ['model.id'], name=op.f('fk_pack_fitted_model_id_model'), ondelete='CASCADE'
        ),
        sa.ForeignKeyConstraint(['pack_id'], ['pack.id'], name=op.f('fk_pack_fitted_pack_id_pack')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_pack_fitted')),
    )
    op.create_index('ix_pack_fitted_newest', 'pack_fitted', ['model_id', 'id'])
    op.create_index(op.f('ix_pack_fitted_pack_id'), 'pack_fitted', ['pack_id'])
    op.create_table(
        'pack_flight',
        sa.Column('id', sa.Uuid(), nullable=False),
        sa.Column('owner_id', sa.Uuid(), nullable=False),
        sa.Column('pack_id', sa.Uuid(), nullable=False),
        sa.Column('sortie_id', sa.Uuid(), nullable=True),
        sa.Column('flown_on', sa.Date(), nullable=True),
        sa.Column('minutes', sa.Float(), nullable=True),
        sa.Column('before_v', sa.Float(), nullable=True),
        sa.Column('after_v', sa.Float(), nullable=True),
        sa.Column('put_back_c', sa.Float(), nullable=True),
        sa.Column(
            'created_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False
        ),
        sa.CheckConstraint('sortie_id IS NOT NULL OR minutes > 0', name=op.f('ck_pack_flight_of_something')),
        sa.CheckConstraint('put_back_c >= 0 AND before_v > 0 AND after_v > 0', name=op.f('ck_pack_flight_read')),
        sa.ForeignKeyConstraint(['owner_id'], ['owner.id'], name=op.f('fk_pack_flight_owner_id_owner')),
        sa.ForeignKeyConstraint(['pack_id'], ['pack.id'], name=op.f('fk_pack_flight_pack_id_pack')),
        sa.ForeignKeyConstraint(
            ['sortie_id'], ['sortie.id'], name=op.f('fk_pack_flight_sortie_id_sortie'), ondelete='CASCADE'
        ),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_pack_flight')),
        sa.UniqueConstraint('sortie_id', name=op.f('uq_pack_flight_sortie_id')),
    )
    for column in ('owner_id', 'pack_id'):
        op.create_index(op.f(f'ix_pack_flight_{column}'), 'pack_flight', [column])


def downgrade() -> None:
    op.drop_table('pack_flight')
    op.drop_table('pack_fitted')
    for column in ('safe_minutes', 'cell_v'):
        op.drop_column('sortie', column)
    op.drop_constraint(op.f('ck_pack_described'), 'pack')
    for column in ('put_away_at', 'mass_kg', 'resistance_ohm', 'rating_per_h'):
        op.drop_column('pack', column)
