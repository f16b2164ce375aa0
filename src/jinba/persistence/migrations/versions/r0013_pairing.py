"""devices that may reach the program beyond loopback: codes that pair one, and who was paired

Nothing that stands is touched. Both tables stay out of backups: who is let in belongs to this machine, not to the data.
"""

import sqlalchemy as sa
from alembic import op

revision = '0013'
down_revision = '0012'


def upgrade() -> None:
    op.create_table(
        'pairing_code',
        sa.Column('id', sa.Uuid(), nullable=False),
        sa.Column('owner_id', sa.Uuid(), nullable=False),
        sa.Column('code_hash', sa.String(), nullable=False),
        sa.Column('sortie_id', sa.Uuid(), nullable=True),
        sa.Column('made_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False),
        sa.Column('expires_at', sa.DateTime(timezone=True), nullable=False),
        sa.Column('used_at', sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint('expires_at > made_at', name=op.f('ck_pairing_code_expiry')),
        sa.ForeignKeyConstraint(['owner_id'], ['owner.id'], name=op.f('fk_pairing_code_owner_id_owner')),
        sa.ForeignKeyConstraint(
            ['sortie_id'], ['sortie.id'], name=op.f('fk_pairing_code_sortie_id_sortie'), ondelete='CASCADE'
        ),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_pairing_code')),
        sa.UniqueConstraint('code_hash', name=op.f('uq_pairing_code_code_hash')),
    )
    op.create_table(
        'paired_device',
        sa.Column('id', sa.Uuid(), nullable=False),
        sa.Column('owner_id', sa.Uuid(), nullable=False),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('token_hash', sa.String(), nullable=False),
        sa.Column('sortie_id', sa.Uuid(), nullable=True),
        sa.Column('paired_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False),
        sa.Column('expires_at', sa.DateTime(timezone=True), nullable=False),
        sa.Column('seen_at', sa.DateTime(timezone=True), nullable=True),
        sa.Column('forgotten_at', sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(['owner_id'], ['owner.id'], name=op.f('fk_paired_device_owner_id_owner')),
        sa.ForeignKeyConstraint(
            ['sortie_id'], ['sortie.id'], name=op.f('fk_paired_device_sortie_id_sortie'), ondelete='CASCADE'
        ),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_paired_device')),
        sa.UniqueConstraint('token_hash', name=op.f('uq_paired_device_token_hash')),
    )
    for table in ('pairing_code', 'paired_device'):
        for column in ('owner_id', 'sortie_id'):
            op.create_index(op.f(f'ix_{table}_{column}'), table, [column])


def downgrade() -> None:
    op.drop_table('paired_device')
    op.drop_table('pairing_code')
