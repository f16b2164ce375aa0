"""how probable it is, after a sortie, that the balance was misread

Estimates before this one knew no such chance: theirs is null, not zero.
"""

import sqlalchemy as sa
from alembic import op

revision = '0010'
down_revision = '0009'


def upgrade() -> None:
    op.add_column('estimate', sa.Column('misread', sa.Double(), nullable=True))
    op.create_check_constraint('misread', 'estimate', 'misread >= 0 AND misread <= 1')


def downgrade() -> None:
    op.drop_constraint('misread', 'estimate')
    op.drop_column('estimate', 'misread')
