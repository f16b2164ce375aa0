"""photos of incidents and of work-order actions

The table of attachments was there and nothing wrote it; it gains what a photo hangs on, its size and its bytes beside it.
"""

import sqlalchemy as sa
from alembic import op

revision = '0009'
down_revision = '0008'


def upgrade() -> None:
    op.add_column('attachment', sa.Column('work_order_id', sa.Uuid(), nullable=True))
    op.add_column('attachment', sa.Column('position', sa.Integer(), nullable=True))
    op.add_column('attachment', sa.Column('width', sa.Integer(), server_default='0', nullable=False))
    op.add_column('attachment', sa.Column('height', sa.Integer(), server_default='0', nullable=False))
    op.add_column('attachment', sa.Column('caption', sa.String(), server_default='', nullable=False))
    op.add_column('attachment', sa.Column('request_hash', sa.String(), nullable=True))
    op.add_column('attachment', sa.Column('taken_back_at', sa.DateTime(timezone=True), nullable=True))
    op.create_index('ix_attachment_work_order_id', 'attachment', ['work_order_id'])
    op.create_check_constraint('ck_attachment_action', 'attachment', '(work_order_id IS NULL) = (position IS NULL)')
    op.create_foreign_key(
        'fk_attachment_work_order_id_work_order_action',
        'attachment',
        'work_order_action',
        ['work_order_id', 'position'],
        ['work_order_id', 'position'],
        ondelete='CASCADE',
    )
    op.create_table(
        'attachment_content',
        sa.Column(
            'attachment_id', sa.Uuid(), sa.ForeignKey('attachment.id', ondelete='CASCADE'), primary_key=True
        ),
        sa.Column('content', sa.LargeBinary(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table('attachment_content')
    op.drop_constraint('fk_attachment_work_order_id_work_order_action', 'attachment', type_='foreignkey')
    op.drop_constraint('ck_attachment_action', 'attachment', type_='check')
    op.drop_index('ix_attachment_work_order_id', 'attachment')
    for name in ('taken_back_at', 'request_hash', 'caption', 'height', 'width', 'position', 'work_order_id'):
        op.drop_column('attachment', name)
