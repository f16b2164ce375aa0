"""proofs as numbers, ticks and orders taken back; the table of incidents goes

What stands was ticked with words alone: it stays ticked, without a number. Incidents are records of the log like everything that
was seen; nothing was ever written to their table.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = '0007'
down_revision = '0006'


def upgrade() -> None:
    op.add_column('work_order_action', sa.Column('expected', postgresql.JSONB(none_as_null=True), nullable=True))
    op.add_column('proof', sa.Column('number', sa.Float(), nullable=True))
    op.add_column('proof', sa.Column('taken_back', sa.Boolean(), server_default=sa.false(), nullable=False))
    op.add_column('work_order', sa.Column('taken_back_at', sa.DateTime(timezone=True), nullable=True))
    op.drop_table('incident')
    op.drop_constraint('uq_work_order_after_sortie_id', 'work_order', type_='unique')
    op.create_index(
        'uq_work_order_standing',
        'work_order',
        ['after_sortie_id'],
        unique=True,
        postgresql_where=sa.text('taken_back_at IS NULL'),
    )


def downgrade() -> None:
    op.drop_index('uq_work_order_standing', table_name='work_order')
    op.execute('DELETE FROM work_order WHERE taken_back_at IS NOT NULL')
    op.create_unique_constraint('uq_work_order_after_sortie_id', 'work_order', ['after_sortie_id'])
    op.drop_column('work_order', 'taken_back_at')
    op.drop_column('proof', 'taken_back')
    op.drop_column('proof', 'number')
    op.drop_column('work_order_action', 'expected')
    op.create_table(
        'incident',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('log_order', sa.BigInteger(), server_default=sa.text("nextval('log_order')"), nullable=False, unique=True),
        sa.Column('model_id', sa.Uuid(), sa.ForeignKey('model.id', ondelete='CASCADE'), nullable=False),
        sa.Column('sortie_id', sa.Uuid(), sa.ForeignKey('sortie.id', ondelete='CASCADE')),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('words', sa.String(), nullable=False),
        sa.Column('happened_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False),
    )
