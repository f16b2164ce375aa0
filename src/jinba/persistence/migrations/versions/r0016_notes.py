"""what is noticed on a flight: by whom, when, on which card, and what was found of it; a photo and a voice to each

The table of notes was there and nothing wrote it.
"""

import sqlalchemy as sa
from alembic import op

revision = '0016'
down_revision = '0015'


def upgrade() -> None:
    for name in ('card_id', 'what', 'found'):
        op.add_column('note', sa.Column(name, sa.String(), server_default='', nullable=False))
    op.add_column('note', sa.Column('device_id', sa.Uuid(), nullable=True))
    op.add_column('note', sa.Column('request_hash', sa.String(), nullable=True))
    op.add_column('note', sa.Column('made_at', sa.DateTime(timezone=True), nullable=True))
    op.add_column('note', sa.Column('looked_at', sa.DateTime(timezone=True), nullable=True))
    op.add_column('note', sa.Column('taken_back_at', sa.DateTime(timezone=True), nullable=True))
    op.create_foreign_key('fk_note_device_id_device', 'note', 'device', ['device_id'], ['id'])
    op.create_index('ix_note_device_id', 'note', ['device_id'])
    op.drop_index('ix_note_record_id', 'note')
    op.drop_constraint('fk_note_record_id_record', 'note', type_='foreignkey')
    op.drop_column('note', 'record_id')
    op.add_column('attachment', sa.Column('note_id', sa.Uuid(), nullable=True))
    op.create_foreign_key('fk_attachment_note_id_note', 'attachment', 'note', ['note_id'], ['id'], ondelete='CASCADE')
    op.create_index('ix_attachment_note_id', 'attachment', ['note_id'])
    op.create_unique_constraint('uq_attachment_note_id_kind', 'attachment', ['note_id', 'kind'])


def downgrade() -> None:
    op.drop_constraint('uq_attachment_note_id_kind', 'attachment', type_='unique')
    op.drop_index('ix_attachment_note_id', 'attachment')
    op.drop_constraint('fk_attachment_note_id_note', 'attachment', type_='foreignkey')
    op.drop_column('attachment', 'note_id')
    op.add_column('note', sa.Column('record_id', sa.Uuid(), nullable=True))
    op.create_foreign_key('fk_note_record_id_record', 'note', 'record', ['record_id'], ['id'], ondelete='CASCADE')
    op.create_index('ix_note_record_id', 'note', ['record_id'])
    op.drop_index('ix_note_device_id', 'note')
    op.drop_constraint('fk_note_device_id_device', 'note', type_='foreignkey')
    for name in ('taken_back_at', 'looked_at', 'made_at', 'request_hash', 'device_id', 'found', 'what', 'card_id'):
        op.drop_column('note', name)
