import type { Generated } from 'kysely'

/** Times are UTC ISO 8601 text; JSON is text; levels and features are blobs or files. */
export interface Schema {
  settings: { key: string; value: string }
  sources: {
    id: string
    name: string
    about: string
    connected: number
    plan: string
    plan_from: string | null
    plan_until: string | null
    last_sync_at: string | null
    last_error: string | null
    /** Sounds of a later generation are not seen yet. */
    generation: Generated<number>
    /** Set while it is removed and can be brought back. */
    removed_at: string | null
    kind: Generated<string>
    folder_path: string | null
    default_terms_id: number | null
    change_mark: string | null
    whole_at: string | null
    shrunk_to: number | null
    last_result: Generated<string>
    /** How a library is asked: one that is known by code, or 'described'; null for what is no library. */
    connector: string | null
    /** Where a library is. */
    address: string | null
    description_json: string | null
    /** Set while a library is not to be asked for anything. */
    paused_at: string | null
    /** A pack that was brought and waits to be unpacked. */
    pack_sha256: string | null
  }
  terms: {
    id: Generated<number>
    source_id: string
    /** The source's own key of the licence. */
    key: string
    version: string
    title: string
    short_title: string
    spdx_id: string | null
    url: string | null
    text: string
    sha256: string
    duration: string
    clauses_json: string
    seen_at: string
    /** The licence that the source calls the text and that it is not. */
    misfit_label: Generated<string | null>
    /** By which way of reading the clauses were made. */
    reading_version: Generated<number>
  }
  sounds: {
    id: Generated<number>
    source_id: string
    external_id: string
    title: string
    maker: string
    description: string
    tags_json: string
    category: string
    duration_s: number
    formats_json: string
    cost: string
    page_url: string | null
    preview_ref: string
    terms_id: number
    withdrawn_at: string | null
    updated_at: string
    kind: Generated<string>
    tempo_bpm: number | null
    mood: string | null
    vocals: number | null
    added_at: Generated<string>
    popularity: number | null
    own_title: string | null
    /** It is seen once its source has come to this generation. */
    generation: Generated<number>
    /** The entry that it is a stem, part or version of, by its external id; null for an entry. */
    choice_of: string | null
    choice_role: string | null
    choice_name: string | null
    choice_position: number | null
  }
  sound_tiers: {
    sound_id: number
    key: string
    position: number
    title: string
    price_minor: number
    currency: string
    terms_id: number
  }
  orders: {
    id: Generated<number>
    order_key: string
    sound_id: number
    tier: string
    price_minor: number
    currency: string
    video_id: number | null
    /** "open" (not bought), "asked" (sent, not answered), "paid" (file still to come), "done". */
    state: string
    order_ref: string | null
    created_at: string
    paid_minor: number | null
    paid_currency: string | null
    paid_at: string | null
    is_disputed: Generated<number>
    terms_id: number | null
    grant_id: number | null
    receipt_sha256: string | null
    served_sha256: string | null
    is_receipt_missing: Generated<number>
    message: Generated<string>
    tries: Generated<number>
    next_try_at: string | null
  }
  basket: {
    id: Generated<number>
    sound_id: number
    tier: string
    price_minor: number
    currency: string
    video_id: number | null
    added_at: string
  }
  analyses: {
    sound_id: number
    /** File of which the analysis was made. */
    audio_sha256: string
    audio_mime: string
    print_column_s: number
    print_levels: Buffer
    loudness_lufs: number | null
    hit_s: number | null
    duration_s: number
    feature_version: number
    channels: number | null
    loops: number | null
  }
  likeness: { sound_id: number; version: number; vector: Buffer; traits_json: string }
  probes: { id: Generated<number>; title: string; vector: Buffer; traits_json: string; created_at: string }
  keeps: { sound_id: number; note: string; kept_at: string }
  collections: { id: Generated<number>; name: string; position: number }
  collection_sounds: { collection_id: number; sound_id: number; position: number }
  habits: { sound_id: number; words: string }
  saved_searches: { id: Generated<number>; name: string; query: string; sort: string; at: string }
  captions: { video_id: number; file_name: string; cues_json: string; at: string }
  batches: { id: Generated<number>; video_id: number | null; created_at: string }
  batch_items: {
    batch_id: number
    position: number
    sound_id: number
    tier: string | null
    price_minor: number
    order_id: number | null
    state: string
    message: string
  }
  /** Sounds that changed, for the search to follow. */
  own_words: {
    sound_id: number
    words_json: string
    category: string | null
    /** What the file says by itself. */
    file_tags_json: string
    file_category: string
  }
  live_seen: { sound_id: number; seen_at: string }
  find_changes: { number: Generated<number>; sound_id: number }
  analysis_failures: { sound_id: number; reason: string; at: string }
  copies: {
    sha256: string
    size_bytes: number
    mime: string
    file_name: string
    created_at: string
  }
  grants: {
    id: Generated<number>
    sound_id: number
    copy_sha256: string
    terms_id: number
    title: string
    plan_from: string | null
    plan_until: string | null
    order_ref: string
    licensee: string
    credit_line: string | null
    acquired_at: string
    kind: Generated<string>
    tier: string | null
    paid_minor: number | null
    paid_currency: string | null
    original_name: string | null
    served_sha256: string | null
    acquisition_id: Generated<string>
    /** Rights as they stand in the tags of the copy, JSON; null for what was acquired before they were kept. */
    rights_json: string | null
    taken_back_at: string | null
    heard_sha256: string | null
    /** Length of the preview that the sound was known by, s; null where there was none, or it was not kept. */
    heard_duration_s: number | null
    /** Path of the text that the papers were declared after; empty for what stands for a whole folder, null for what was said of the file itself. */
    declared_after: Generated<string | null>
  }
  grant_videos: { grant_id: number; video_id: number; key: string; note: string; at: string }
  evidence: {
    id: Generated<number>
    grant_id: number
    sha256: string
    file_name: string
    mime: string
    size_bytes: number
    added_at: string
  }
  plan_periods: {
    id: Generated<number>
    source_id: string
    plan: string
    plan_from: string | null
    plan_until: string | null
    seen_at: string
  }
  catalogue_seen: {
    source_id: string
    external_id: string
  }
  catalogue_stage: {
    source_id: string
    position: number
    next: string | null
    total: number | null
    sounds_packed: Buffer
    read_at: string
  }
  folder_files: {
    source_id: string
    path: string
    size_bytes: number
    modified_ms: number
    sha256: string
    sound_id: number
  }
  papers_proposals: {
    id: Generated<number>
    source_id: string
    path: string
    text: string
    sha256: string
    reading_json: string
    state: string
    at: string
  }
  notices_seen: { key: string; at: string }
  videos: {
    id: Generated<number>
    title: string
    uses_json: string
    created_at: string
    removed_at: Generated<string | null>
  }
  exports: {
    id: Generated<number>
    video_id: number
    sha256: string
    size_bytes: number
    file_name: string
    mime: string
    created_at: string
    removed_at: Generated<string | null>
  }
  scores: { video_id: number; revision: number; document_json: string; changed_at: string }
  mixes: {
    id: Generated<number>
    video_id: number
    revision: number
    document_json: string
    with_stems: number
    format: Generated<string>
    with_video: Generated<number>
    state: string
    message: Generated<string>
    created_at: string
    result_json: string | null
  }
  mix_files: { mix_id: number; position: number; name: string; sha256: string; size_bytes: number }
  cuts: {
    id: Generated<number>
    video_id: number
    sha256: string
    size_bytes: number
    file_name: string
    mime: string
    created_at: string
    removed_at: Generated<string | null>
    state: string
    message: Generated<string>
    has_picture: Generated<number>
    /** What the finished stages found; null for one that is still to come, or that the cut has not. */
    sound_json: Generated<string | null>
    picture_json: Generated<string | null>
    carried_json: Generated<string | null>
    /** Files of a cut: levels of peaks one after the other, its sketch, its small pictures, times of uneven frames. */
    peaks_sha256: Generated<string | null>
    sketch_sha256: Generated<string | null>
    strip_sha256: Generated<string | null>
    frames_sha256: Generated<string | null>
  }
  moment_documents: {
    video_id: number
    revision: number
    document_json: string
    /** The cut that its times are of. */
    cut_id: number | null
    changed_at: string
  }
  checks: {
    id: Generated<number>
    video_id: number
    export_id: number
    state: string
    message: string
    created_at: string
    finished_at: string | null
    has_picture: Generated<number>
    duration_s: number | null
    integrated_lufs: number | null
    true_peak_dbtp: number | null
    momentary: Buffer | null
    waveform: Buffer | null
    listened_for: Generated<number>
    not_examined_json: Generated<string>
    decoy_count: Generated<number>
    decoy_finds: Generated<number>
    loudness_range_lu: number | null
    short_term_max_lufs: number | null
    account_json: string | null
    sensitivity_json: Generated<string>
    facts_sha256: Generated<string | null>
    removed_at: Generated<string | null>
  }
  /** What the finished stages of a check that is not over found. */
  check_stages: { check_id: number; key: string; result_json: string }
  /** Checked tracks in their compact form, in which a new sound can be looked for later. */
  stored_tracks: { export_id: number; track_index: number; version: number; bytes: Buffer }
  /** What finished checks examined and found; rows are never changed. */
  check_facts: {
    sha256: string
    check_id: number
    carries_on: string | null
    /** Places in which sounds are heard. */
    place_count: number
    created_at: string
    json: string
  }
  track_maps: { check_id: number; track_index: number; momentary: Buffer; waveform: Buffer }
  audio_changes: {
    number: Generated<number>
    sound_id: number
    from_sha256: string | null
    to_sha256: string | null
    at: string
  }
  point_answers: {
    id: Generated<number>
    video_id: number
    point_kind: string
    file_sha256: string
    track_index: number | null
    places_json: string
    sound_ids_json: string
    kind: string
    from_sound_id: number | null
    reason: string
    by_name: string
    at: string
    undone_at: string | null
  }
  /** States that were decided and still hold, for the day on which they were decided. */
  placed_in_checks: { check_id: number; sound_id: number }
  video_states: { video_id: number; day: string; state_json: string }
  state_revision: { number: number }
  /** View: a sound with the name that is shown, its source, and its terms of today (from `terms_key` on). */
  sound_rows: Omit<
    Schema['sounds'],
    'id' | 'title' | 'own_title' | 'kind' | 'added_at' | 'preview_ref' | 'updated_at'
  > & {
    id: number
    shown_title: string
    /** As the source calls it. */
    original_title: string
    /** 0 or 1. */
    is_renamed: number
    kind: string
    added_at: string
    source_name: string
    source_kind: string
    plan: string
    plan_from: string | null
    plan_until: string | null
    terms_key: string
    terms_title: string
    short_title: string
    version: string
    spdx_id: string | null
    url: string | null
    duration: string
    clauses_json: string
    terms_sha256: string
  }
  /** View: grants that were not taken back. */
  active_grants: Omit<Schema['grants'], 'id' | 'kind' | 'acquisition_id'> & {
    id: number
    kind: string
    acquisition_id: string
  }
  recording_groups: { sound_id: number; group_id: number }
  recording_pieces: { whole_id: number; piece_id: number }
  /** Entries that are what their stems add up to. */
  recording_sums: { whole_id: number; stem_ids_json: string }
  recording_comparisons: {
    one_sha256: string
    other_sha256: string
    version: string
    likeness: number
    piece: 'one' | 'other' | 'none' | null
  }
  sum_comparisons: { whole_sha256: string; stem_sha256s: string; version: string; adds_up: number }
  detections: {
    id: Generated<number>
    check_id: number
    sound_id: number
    start_s: number
    end_s: number
    from_s: number
    to_s: number
    gain_db: number
    confidence: number
    speed: Generated<number>
    treatment: Generated<string>
    cutoff_hz: number | null
    balance: Generated<number>
    fade_in_s: Generated<number>
    fade_out_s: Generated<number>
    alternatives_json: Generated<string>
    track_index: Generated<number>
    audio_sha256: Generated<string>
  }
  /** Append-only: triggers refuse any change. */
  ledger: { number: number; at: string; kind: string; body_json: string; previous: string; hash: string }
  jobs: {
    id: Generated<number>
    kind: string
    subject: string
    title: string
    state: string
    progress_fraction: Generated<number>
    message: Generated<string>
    attempts: Generated<number>
    created_at: string
    finished_at: string | null
    format: string | null
  }
}
