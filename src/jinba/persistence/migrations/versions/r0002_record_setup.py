"""the setup a bench or ground card was done on"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = '0002'
down_revision = '0001'


def upgrade() -> None:
    op.add_column('record', sa.Column('setup', postgresql.JSONB(astext_type=sa.Text()), nullable=True))


def downgrade() -> None:
    op.drop_column('record', 'setup')
