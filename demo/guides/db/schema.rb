ActiveRecord::Schema.define(version: 2026_01_01_000000) do
  create_table "nights", force: :cascade do |t|
    t.date "date"
    t.integer "seats"
  end

  create_table "bookings", force: :cascade do |t|
    t.integer "night_id"
    t.integer "guide_id"
    t.string "visitor"
    t.integer "seats"
  end

  create_table "guides", force: :cascade do |t|
    t.string "name"
    t.string "languages"
  end
end
