-- Tables of revision 0003, frozen here: a later change of the tables is a later migration.

CREATE SEQUENCE log_order;

CREATE TABLE owner (
  id UUID NOT NULL,
  name VARCHAR NOT NULL,
  CONSTRAINT pk_owner PRIMARY KEY (id)
);

CREATE TABLE pilot_group (
  id UUID NOT NULL,
  name VARCHAR NOT NULL,
  CONSTRAINT pk_pilot_group PRIMARY KEY (id)
);

CREATE TABLE setup (
  hash VARCHAR NOT NULL,
  schema_version INTEGER NOT NULL,
  body JSONB NOT NULL,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_setup PRIMARY KEY (hash),
  CONSTRAINT ck_setup_content CHECK (length(hash) = 64 AND schema_version >= 1)
);

CREATE TABLE device (
  id UUID NOT NULL,
  owner_id UUID NOT NULL,
  name VARCHAR NOT NULL,
  clock_offset_s DOUBLE PRECISION NOT NULL,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_device PRIMARY KEY (id),
  CONSTRAINT fk_device_owner_id_owner FOREIGN KEY(owner_id) REFERENCES owner (id)
);

CREATE INDEX ix_device_owner_id ON device (owner_id);

CREATE TABLE model (
  id UUID NOT NULL,
  owner_id UUID NOT NULL,
  group_id UUID,
  name VARCHAR NOT NULL,
  story VARCHAR NOT NULL,
  read_only BOOLEAN NOT NULL,
  stand_in JSONB,
  setup_version INTEGER NOT NULL,
  log_order BIGINT NOT NULL,
  log_version INTEGER NOT NULL,
  request_hash VARCHAR,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_model PRIMARY KEY (id),
  CONSTRAINT ck_model_counters CHECK (setup_version >= 1 AND log_version >= 0),
  CONSTRAINT fk_model_owner_id_owner FOREIGN KEY(owner_id) REFERENCES owner (id),
  CONSTRAINT fk_model_group_id_pilot_group FOREIGN KEY(group_id) REFERENCES pilot_group (id)
);

CREATE INDEX ix_model_group_id ON model (group_id);

CREATE INDEX ix_model_owner_id ON model (owner_id);

CREATE TABLE pack (
  id UUID NOT NULL,
  owner_id UUID NOT NULL,
  group_id UUID,
  name VARCHAR NOT NULL,
  chemistry VARCHAR NOT NULL,
  cells INTEGER,
  capacity_c DOUBLE PRECISION,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_pack PRIMARY KEY (id),
  CONSTRAINT uq_pack_owner_id_name UNIQUE (owner_id, name),
  CONSTRAINT fk_pack_owner_id_owner FOREIGN KEY(owner_id) REFERENCES owner (id),
  CONSTRAINT fk_pack_group_id_pilot_group FOREIGN KEY(group_id) REFERENCES pilot_group (id)
);

CREATE INDEX ix_pack_group_id ON pack (group_id);

CREATE TABLE configuration (
  id UUID NOT NULL,
  model_id UUID NOT NULL,
  number INTEGER NOT NULL,
  change_words TEXT[] NOT NULL,
  opened_cards TEXT[] NOT NULL,
  current_revision_id UUID NOT NULL,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_configuration PRIMARY KEY (id),
  CONSTRAINT uq_configuration_model_id_number UNIQUE (model_id, number),
  CONSTRAINT uq_configuration_id_model_id UNIQUE (id, model_id),
  CONSTRAINT ck_configuration_number CHECK (number >= 1),
  CONSTRAINT fk_configuration_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE
);

CREATE TABLE revision (
  id UUID NOT NULL,
  configuration_id UUID NOT NULL,
  number INTEGER NOT NULL,
  parent_id UUID,
  words VARCHAR NOT NULL,
  setup_hash VARCHAR NOT NULL,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_revision PRIMARY KEY (id),
  CONSTRAINT uq_revision_configuration_id_number UNIQUE (configuration_id, number),
  CONSTRAINT uq_revision_id_configuration_id UNIQUE (id, configuration_id),
  CONSTRAINT ck_revision_number CHECK (number >= 1),
  CONSTRAINT fk_revision_parent_id_revision FOREIGN KEY(parent_id, configuration_id) REFERENCES revision (id, configuration_id),
  CONSTRAINT fk_revision_configuration_id_configuration FOREIGN KEY(configuration_id) REFERENCES configuration (id) ON DELETE CASCADE,
  CONSTRAINT fk_revision_setup_hash_setup FOREIGN KEY(setup_hash) REFERENCES setup (hash)
);

CREATE INDEX ix_revision_parent_id ON revision (parent_id);

CREATE INDEX ix_revision_setup_hash ON revision (setup_hash);

CREATE TABLE sortie (
  id UUID NOT NULL,
  model_id UUID NOT NULL,
  configuration_id UUID NOT NULL,
  number INTEGER NOT NULL,
  status VARCHAR NOT NULL,
  alone BOOLEAN NOT NULL,
  simulated BOOLEAN NOT NULL,
  setup_hash VARCHAR NOT NULL,
  pack_id UUID,
  request_hash VARCHAR,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  landed_at TIMESTAMP WITH TIME ZONE,
  landed_order BIGINT,
  CONSTRAINT pk_sortie PRIMARY KEY (id),
  CONSTRAINT uq_sortie_id_model_id UNIQUE (id, model_id),
  CONSTRAINT fk_sortie_configuration_id_configuration FOREIGN KEY(configuration_id, model_id) REFERENCES configuration (id, model_id) ON DELETE CASCADE,
  CONSTRAINT ck_sortie_status CHECK (status IN ('planned', 'flying', 'landed', 'called_off')),
  CONSTRAINT ck_sortie_landing CHECK ((status = 'landed') = (landed_at IS NOT NULL AND landed_order IS NOT NULL)),
  CONSTRAINT fk_sortie_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_sortie_setup_hash_setup FOREIGN KEY(setup_hash) REFERENCES setup (hash),
  CONSTRAINT fk_sortie_pack_id_pack FOREIGN KEY(pack_id) REFERENCES pack (id),
  CONSTRAINT uq_sortie_landed_order UNIQUE (landed_order)
);

CREATE INDEX ix_sortie_configuration_id ON sortie (configuration_id);

CREATE UNIQUE INDEX ix_sortie_number ON sortie (model_id, number) WHERE status <> 'called_off';

CREATE UNIQUE INDEX ix_sortie_one_open ON sortie (model_id) WHERE status IN ('planned', 'flying');

CREATE INDEX ix_sortie_pack_id ON sortie (pack_id);

CREATE INDEX ix_sortie_setup_hash ON sortie (setup_hash);

CREATE TABLE estimate (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  sortie_id UUID NOT NULL,
  setup_hash VARCHAR NOT NULL,
  method VARCHAR NOT NULL,
  log_version INTEGER NOT NULL,
  inputs_hash VARCHAR NOT NULL,
  data_count INTEGER NOT NULL,
  parameters TEXT[] NOT NULL,
  mean DOUBLE PRECISION[],
  covariance DOUBLE PRECISION[],
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_estimate PRIMARY KEY (id),
  CONSTRAINT ck_estimate_shape CHECK (cardinality(mean) = cardinality(parameters) AND cardinality(covariance) = cardinality(parameters) ^ 2),
  CONSTRAINT ck_estimate_data CHECK (data_count >= 0),
  CONSTRAINT uq_estimate_log_order UNIQUE (log_order),
  CONSTRAINT fk_estimate_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_estimate_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_estimate_setup_hash_setup FOREIGN KEY(setup_hash) REFERENCES setup (hash)
);

CREATE INDEX ix_estimate_model_id ON estimate (model_id);

CREATE INDEX ix_estimate_newest ON estimate (sortie_id, setup_hash, log_order);

CREATE INDEX ix_estimate_setup_hash ON estimate (setup_hash);

CREATE TABLE incident (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  sortie_id UUID,
  kind VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  happened_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_incident PRIMARY KEY (id),
  CONSTRAINT uq_incident_log_order UNIQUE (log_order),
  CONSTRAINT fk_incident_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_incident_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE
);

CREATE INDEX ix_incident_model_id ON incident (model_id);

CREATE INDEX ix_incident_sortie_id ON incident (sortie_id);

CREATE TABLE prediction (
  sortie_id UUID NOT NULL,
  key VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  value DOUBLE PRECISION NOT NULL,
  sigma DOUBLE PRECISION NOT NULL,
  low DOUBLE PRECISION NOT NULL,
  high DOUBLE PRECISION NOT NULL,
  rail_low DOUBLE PRECISION NOT NULL,
  rail_high DOUBLE PRECISION NOT NULL,
  CONSTRAINT pk_prediction PRIMARY KEY (sortie_id, key),
  CONSTRAINT ck_prediction_sigma CHECK (sigma >= 0),
  CONSTRAINT fk_prediction_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE
);

CREATE TABLE record (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  configuration_id UUID NOT NULL,
  sortie_id UUID,
  epoch INTEGER NOT NULL,
  card_id VARCHAR NOT NULL,
  outcome VARCHAR NOT NULL,
  left_alone BOOLEAN,
  confidence VARCHAR NOT NULL,
  from_memory BOOLEAN NOT NULL,
  note VARCHAR NOT NULL,
  setup_hash VARCHAR NOT NULL,
  replaces_id UUID,
  throttle DOUBLE PRECISION,
  flap DOUBLE PRECISION,
  gear VARCHAR,
  stabiliser_mode VARCHAR,
  wind_mps DOUBLE PRECISION,
  gust_mps DOUBLE PRECISION,
  pack_id UUID,
  device_id UUID,
  logged_by VARCHAR NOT NULL,
  seen_order BIGINT,
  schema_version INTEGER NOT NULL,
  request_hash VARCHAR,
  made_at TIMESTAMP WITH TIME ZONE,
  flown_at TIMESTAMP WITH TIME ZONE,
  recorded_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_record PRIMARY KEY (id),
  CONSTRAINT fk_record_configuration_id_configuration FOREIGN KEY(configuration_id, model_id) REFERENCES configuration (id, model_id) ON DELETE CASCADE,
  CONSTRAINT fk_record_sortie_id_sortie FOREIGN KEY(sortie_id, model_id) REFERENCES sortie (id, model_id) ON DELETE CASCADE,
  CONSTRAINT ck_record_outcome CHECK (outcome IN ('done', 'passed', 'failed', 'skipped', 'aborted')),
  CONSTRAINT ck_record_confidence CHECK (confidence IN ('sure', 'fair', 'doubtful')),
  CONSTRAINT ck_record_gear CHECK (gear IN ('up', 'down')),
  CONSTRAINT ck_record_levers CHECK (throttle BETWEEN 0 AND 1 AND flap BETWEEN 0 AND 1),
  CONSTRAINT ck_record_wind CHECK (wind_mps >= 0 AND gust_mps >= 0),
  CONSTRAINT ck_record_place CHECK (epoch >= 0 AND schema_version >= 1),
  CONSTRAINT uq_record_log_order UNIQUE (log_order),
  CONSTRAINT fk_record_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_record_setup_hash_setup FOREIGN KEY(setup_hash) REFERENCES setup (hash),
  CONSTRAINT uq_record_replaces_id UNIQUE (replaces_id),
  CONSTRAINT fk_record_replaces_id_record FOREIGN KEY(replaces_id) REFERENCES record (id),
  CONSTRAINT fk_record_pack_id_pack FOREIGN KEY(pack_id) REFERENCES pack (id),
  CONSTRAINT fk_record_device_id_device FOREIGN KEY(device_id) REFERENCES device (id)
);

CREATE INDEX ix_record_configuration_id ON record (configuration_id);

CREATE INDEX ix_record_device_id ON record (device_id);

CREATE INDEX ix_record_newest ON record (model_id, card_id, epoch, log_order);

CREATE INDEX ix_record_pack_id ON record (pack_id);

CREATE INDEX ix_record_setup_hash ON record (setup_hash);

CREATE INDEX ix_record_sortie_id ON record (sortie_id);

CREATE TABLE sortie_card (
  sortie_id UUID NOT NULL,
  card_id VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  origin VARCHAR NOT NULL,
  CONSTRAINT pk_sortie_card PRIMARY KEY (sortie_id, card_id),
  CONSTRAINT uq_sortie_card_sortie_id_position UNIQUE (sortie_id, position),
  CONSTRAINT ck_sortie_card_origin CHECK (origin IN ('planned', 'added', 'dropped')),
  CONSTRAINT fk_sortie_card_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE
);

CREATE TABLE sortie_trim (
  sortie_id UUID NOT NULL,
  moment VARCHAR NOT NULL,
  axis VARCHAR NOT NULL,
  rest_rad DOUBLE PRECISION NOT NULL,
  clicks INTEGER NOT NULL,
  CONSTRAINT pk_sortie_trim PRIMARY KEY (sortie_id, moment, axis),
  CONSTRAINT ck_sortie_trim_moment CHECK (moment IN ('release', 'landing')),
  CONSTRAINT ck_sortie_trim_axis CHECK (axis IN ('pitch', 'roll', 'yaw')),
  CONSTRAINT fk_sortie_trim_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE
);

CREATE TABLE weather (
  sortie_id UUID NOT NULL,
  wind_mps DOUBLE PRECISION NOT NULL,
  gust_mps DOUBLE PRECISION NOT NULL,
  from_rad DOUBLE PRECISION NOT NULL,
  strip_heading_rad DOUBLE PRECISION NOT NULL,
  temperature_k DOUBLE PRECISION,
  pressure_pa DOUBLE PRECISION,
  CONSTRAINT pk_weather PRIMARY KEY (sortie_id),
  CONSTRAINT ck_weather_wind CHECK (wind_mps >= 0 AND gust_mps >= wind_mps),
  CONSTRAINT fk_weather_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE
);

CREATE TABLE work_order (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  after_sortie_id UUID NOT NULL,
  to_configuration_id UUID NOT NULL,
  request_hash VARCHAR,
  created_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_work_order PRIMARY KEY (id),
  CONSTRAINT uq_work_order_log_order UNIQUE (log_order),
  CONSTRAINT fk_work_order_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT uq_work_order_after_sortie_id UNIQUE (after_sortie_id),
  CONSTRAINT fk_work_order_after_sortie_id_sortie FOREIGN KEY(after_sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_work_order_to_configuration_id_configuration FOREIGN KEY(to_configuration_id) REFERENCES configuration (id) ON DELETE CASCADE
);

CREATE INDEX ix_work_order_model_id ON work_order (model_id);

CREATE INDEX ix_work_order_to_configuration_id ON work_order (to_configuration_id);

CREATE TABLE attachment (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  sortie_id UUID,
  record_id UUID,
  kind VARCHAR NOT NULL,
  media_type VARCHAR NOT NULL,
  bytes INTEGER NOT NULL,
  content_hash VARCHAR NOT NULL,
  added_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_attachment PRIMARY KEY (id),
  CONSTRAINT ck_attachment_kind CHECK (kind IN ('photo', 'voice') AND bytes > 0),
  CONSTRAINT uq_attachment_log_order UNIQUE (log_order),
  CONSTRAINT fk_attachment_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_attachment_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_attachment_record_id_record FOREIGN KEY(record_id) REFERENCES record (id) ON DELETE CASCADE
);

CREATE INDEX ix_attachment_model_id ON attachment (model_id);

CREATE INDEX ix_attachment_record_id ON attachment (record_id);

CREATE INDEX ix_attachment_sortie_id ON attachment (sortie_id);

CREATE TABLE behaviour (
  estimate_id UUID NOT NULL,
  moment VARCHAR NOT NULL,
  key VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  value DOUBLE PRECISION NOT NULL,
  sigma DOUBLE PRECISION NOT NULL,
  low DOUBLE PRECISION NOT NULL,
  high DOUBLE PRECISION NOT NULL,
  rail_low DOUBLE PRECISION NOT NULL,
  rail_high DOUBLE PRECISION NOT NULL,
  CONSTRAINT pk_behaviour PRIMARY KEY (estimate_id, moment, key),
  CONSTRAINT ck_behaviour_moment CHECK (moment IN ('before', 'flown', 'landed')),
  CONSTRAINT fk_behaviour_estimate_id_estimate FOREIGN KEY(estimate_id) REFERENCES estimate (id) ON DELETE CASCADE
);

CREATE TABLE cause (
  estimate_id UUID NOT NULL,
  key VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  positive BOOLEAN NOT NULL,
  value DOUBLE PRECISION NOT NULL,
  sigma DOUBLE PRECISION NOT NULL,
  prior_sigma DOUBLE PRECISION NOT NULL,
  strength DOUBLE PRECISION NOT NULL,
  separated BOOLEAN NOT NULL,
  CONSTRAINT pk_cause PRIMARY KEY (estimate_id, key),
  CONSTRAINT fk_cause_estimate_id_estimate FOREIGN KEY(estimate_id) REFERENCES estimate (id) ON DELETE CASCADE
);

CREATE TABLE estimate_bias (
  estimate_id UUID NOT NULL,
  measure VARCHAR NOT NULL,
  value DOUBLE PRECISION NOT NULL,
  CONSTRAINT pk_estimate_bias PRIMARY KEY (estimate_id, measure),
  CONSTRAINT fk_estimate_bias_estimate_id_estimate FOREIGN KEY(estimate_id) REFERENCES estimate (id) ON DELETE CASCADE
);

CREATE TABLE gate_pass (
  sortie_id UUID NOT NULL,
  card_id VARCHAR NOT NULL,
  record_id UUID NOT NULL,
  CONSTRAINT pk_gate_pass PRIMARY KEY (sortie_id, card_id),
  CONSTRAINT fk_gate_pass_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_gate_pass_record_id_record FOREIGN KEY(record_id) REFERENCES record (id)
);

CREATE INDEX ix_gate_pass_record_id ON gate_pass (record_id);

CREATE TABLE note (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  sortie_id UUID,
  record_id UUID,
  words VARCHAR NOT NULL,
  noted_by VARCHAR NOT NULL,
  noted_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_note PRIMARY KEY (id),
  CONSTRAINT uq_note_log_order UNIQUE (log_order),
  CONSTRAINT fk_note_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_note_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_note_record_id_record FOREIGN KEY(record_id) REFERENCES record (id) ON DELETE CASCADE
);

CREATE INDEX ix_note_model_id ON note (model_id);

CREATE INDEX ix_note_record_id ON note (record_id);

CREATE INDEX ix_note_sortie_id ON note (sortie_id);

CREATE TABLE reading (
  record_id UUID NOT NULL,
  position INTEGER NOT NULL,
  measure VARCHAR NOT NULL,
  number DOUBLE PRECISION,
  choice VARCHAR,
  direction VARCHAR,
  nothing BOOLEAN NOT NULL,
  as_entered VARCHAR NOT NULL,
  CONSTRAINT pk_reading PRIMARY KEY (record_id, position),
  CONSTRAINT ck_reading_unsigned CHECK (number >= 0),
  CONSTRAINT fk_reading_record_id_record FOREIGN KEY(record_id) REFERENCES record (id) ON DELETE CASCADE
);

CREATE INDEX ix_reading_measure ON reading (measure);

CREATE TABLE record_choice (
  id SERIAL NOT NULL,
  record_id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  chosen_by VARCHAR NOT NULL,
  chosen_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_record_choice PRIMARY KEY (id),
  CONSTRAINT fk_record_choice_record_id_record FOREIGN KEY(record_id) REFERENCES record (id) ON DELETE CASCADE,
  CONSTRAINT uq_record_choice_log_order UNIQUE (log_order)
);

CREATE INDEX ix_record_choice_record_id ON record_choice (record_id);

CREATE TABLE score (
  estimate_id UUID NOT NULL,
  key VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  sigmas DOUBLE PRECISION NOT NULL,
  within_one_sigma BOOLEAN NOT NULL,
  CONSTRAINT pk_score PRIMARY KEY (estimate_id, key),
  CONSTRAINT fk_score_estimate_id_estimate FOREIGN KEY(estimate_id) REFERENCES estimate (id) ON DELETE CASCADE
);

CREATE TABLE squawk (
  id UUID NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  model_id UUID NOT NULL,
  sortie_id UUID,
  estimate_id UUID,
  code VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  raised_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_squawk PRIMARY KEY (id),
  CONSTRAINT uq_squawk_log_order UNIQUE (log_order),
  CONSTRAINT fk_squawk_model_id_model FOREIGN KEY(model_id) REFERENCES model (id) ON DELETE CASCADE,
  CONSTRAINT fk_squawk_sortie_id_sortie FOREIGN KEY(sortie_id) REFERENCES sortie (id) ON DELETE CASCADE,
  CONSTRAINT fk_squawk_estimate_id_estimate FOREIGN KEY(estimate_id) REFERENCES estimate (id) ON DELETE CASCADE
);

CREATE INDEX ix_squawk_estimate_id ON squawk (estimate_id);

CREATE INDEX ix_squawk_model_id ON squawk (model_id);

CREATE INDEX ix_squawk_sortie_id ON squawk (sortie_id);

CREATE TABLE work_order_action (
  work_order_id UUID NOT NULL,
  position INTEGER NOT NULL,
  kind VARCHAR NOT NULL,
  amount DOUBLE PRECISION NOT NULL,
  unit VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  why VARCHAR NOT NULL,
  proof VARCHAR NOT NULL,
  surface_words VARCHAR NOT NULL,
  thumb VARCHAR NOT NULL,
  CONSTRAINT pk_work_order_action PRIMARY KEY (work_order_id, position),
  CONSTRAINT ck_work_order_action_unsigned CHECK (amount >= 0),
  CONSTRAINT fk_work_order_action_work_order_id_work_order FOREIGN KEY(work_order_id) REFERENCES work_order (id) ON DELETE CASCADE
);

CREATE TABLE evidence (
  estimate_id UUID NOT NULL,
  cause_key VARCHAR NOT NULL,
  position INTEGER NOT NULL,
  card_id VARCHAR NOT NULL,
  words VARCHAR NOT NULL,
  pull DOUBLE PRECISION NOT NULL,
  CONSTRAINT pk_evidence PRIMARY KEY (estimate_id, cause_key, position),
  CONSTRAINT fk_evidence_estimate_id_cause FOREIGN KEY(estimate_id, cause_key) REFERENCES cause (estimate_id, key) ON DELETE CASCADE
);

CREATE TABLE proof (
  id SERIAL NOT NULL,
  log_order BIGINT DEFAULT nextval('log_order') NOT NULL,
  work_order_id UUID NOT NULL,
  position INTEGER NOT NULL,
  reading VARCHAR NOT NULL,
  proved_by VARCHAR NOT NULL,
  proved_at TIMESTAMP WITH TIME ZONE DEFAULT clock_timestamp() NOT NULL,
  CONSTRAINT pk_proof PRIMARY KEY (id),
  CONSTRAINT fk_proof_work_order_id_work_order_action FOREIGN KEY(work_order_id, position) REFERENCES work_order_action (work_order_id, position) ON DELETE CASCADE,
  CONSTRAINT uq_proof_log_order UNIQUE (log_order)
);

CREATE INDEX ix_proof_work_order_id ON proof (work_order_id);

ALTER TABLE configuration ADD CONSTRAINT fk_configuration_current_revision_id_revision FOREIGN KEY(current_revision_id, id) REFERENCES revision (id, configuration_id) DEFERRABLE INITIALLY DEFERRED;

CREATE FUNCTION setup_is_never_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'a setup is never changed: store another one' USING ERRCODE = 'restrict_violation';
END $$;
CREATE TRIGGER setup_is_never_changed BEFORE UPDATE ON setup FOR EACH ROW EXECUTE FUNCTION setup_is_never_changed();
