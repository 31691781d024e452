package plenzo.store;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.ToIntFunction;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.Shelf;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Sight;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** One table of records: its columns are taken from the record by a description. */
class MyBatisShelf<T> implements Shelf<T> {
  static final JsonMapper JSON =
      JsonMapper.builder().enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  /**
   * Which parts of a record are columns.
   *
   * @param revised whether the record itself holds its revision; what never changes has none
   */
  record Description<T>(
      Class<T> type,
      Function<T, String> id,
      ToIntFunction<T> revision,
      Function<T, @Nullable String> state,
      Function<T, @Nullable String> application,
      Function<T, @Nullable String> stage,
      Function<T, @Nullable String> site,
      List<UnaryOperator<ObjectNode>> steps,
      boolean revised) {
    static <T> Description<T> of(Class<T> type, Function<T, String> id, ToIntFunction<T> revision) {
      boolean revised =
          Arrays.stream(type.getRecordComponents()).anyMatch(c -> c.getName().equals("revision"));
      return new Description<>(
          type, id, revision, x -> null, x -> null, x -> null, x -> null, List.of(), revised);
    }

    Description<T> state(Function<T, @Nullable String> state) {
      return new Description<>(type, id, revision, state, application, stage, site, steps, revised);
    }

    Description<T> application(Function<T, @Nullable String> application) {
      return new Description<>(type, id, revision, state, application, stage, site, steps, revised);
    }

    Description<T> at(Function<T, @Nullable String> stage, Function<T, @Nullable String> site) {
      return new Description<>(type, id, revision, state, application, stage, site, steps, revised);
    }

    /** How records of earlier formats become present ones; see {@link Upgrades}. */
    Description<T> upgraded(List<UnaryOperator<ObjectNode>> by) {
      return new Description<>(type, id, revision, state, application, stage, site, by, revised);
    }

    int format() {
      return steps.size() + 1;
    }
  }

  /** Which format a stored record has; it is missing in format 1. */
  private static final String FORMAT = "format";

  /** Records that are read at once while all are rewritten. */
  private static final int PART = 100;

  private final RecordMapper mapper;
  private final Table of;
  private final String table;
  private final Description<T> as;
  private final Touched touched;
  private final ReadBefore before;

  /**
   * @param touched is told whose records are written
   * @param before what was read of these tables before
   */
  MyBatisShelf(
      RecordMapper mapper, Table table, Description<T> as, Touched touched, ReadBefore before) {
    this.mapper = mapper;
    this.of = table;
    this.table = table.code();
    this.as = as;
    this.touched = touched;
    this.before = before;
  }

  /** Takes away what is kept apart from the record. */
  void lean(ObjectNode body) {}

  /** What is kept apart from the record; null for nothing. */
  @Nullable String apart(String id) {
    return null;
  }

  /** Puts back what is kept apart from it. */
  void whole(ObjectNode body, String apart) {}

  final RecordMapper mapper() {
    return mapper;
  }

  /**
   * Brings every record into the form that this Plenzo writes, a part at a time; may be cut off and
   * begun anew at any point.
   */
  final void rewrite(Consumer<T> also) {
    Filter filter = Filter.all().most(PART);
    while (true) {
      Slice<BodyRow> part =
          Parts.of(filter, Sight.EVERYWHERE, f -> mapper.list(table, f), BodyRow::ordinal);
      for (BodyRow row : part.items()) {
        T record = record(row);
        mapper.rewrite(table, row(record, row.revision()));
        also.accept(record);
      }
      if (part.next() == 0) {
        return;
      }
      filter = filter.part(part.next(), PART);
    }
  }

  private BodyRow row(T record, int revision) {
    ObjectNode body = JSON.valueToTree(record);
    body.put(FORMAT, as.format());
    lean(body);
    return new BodyRow(
        0,
        as.id().apply(record),
        revision,
        as.state().apply(record),
        as.application().apply(record),
        as.stage().apply(record),
        as.site().apply(record),
        JSON.writeValueAsString(body));
  }

  T record(BodyRow row) {
    String apart = apart(row.id());
    Object known = before.of(table, row, apart);
    if (known == null) {
      known = read(row, apart);
      before.keep(table, row, apart, known);
    }
    return as.type().cast(known);
  }

  private T read(BodyRow row, @Nullable String apart) {
    ObjectNode body = (ObjectNode) JSON.readTree(row.body());
    if (apart != null) {
      whole(body, apart);
    }
    JsonNode told = body.remove(FORMAT);
    int format = told == null ? 1 : told.asInt();
    if (format > as.format()) {
      throw new IllegalStateException(
          "The record "
              + row.id()
              + " of "
              + as.type().getSimpleName()
              + " has format "
              + format
              + " and this Plenzo knows formats up to "
              + as.format()
              + ": a newer Plenzo wrote it. Start that one.");
    }
    for (UnaryOperator<ObjectNode> step : as.steps().subList(format - 1, as.steps().size())) {
      body = step.apply(body);
    }
    if (as.revised()) {
      body.put("revision", row.revision());
    }
    return JSON.treeToValue(body, as.type());
  }

  @Override
  public Optional<T> find(String id) {
    BodyRow row = mapper.find(table, id);
    return row == null ? Optional.empty() : Optional.of(record(row));
  }

  @Override
  public Slice<T> slice(Filter filter, Sight sight) {
    return Parts.of(filter, sight, f -> mapper.list(table, f), BodyRow::ordinal).map(this::record);
  }

  @Override
  public long count(Filter filter) {
    return mapper.count(table, filter);
  }

  @Override
  public void insert(T record) {
    touched.by(of, as.application().apply(record));
    mapper.insert(table, row(record, 1));
  }

  @Override
  public boolean update(T record) {
    touched.by(of, as.application().apply(record));
    int rows = mapper.update(table, row(record, as.revision().applyAsInt(record)));
    if (rows > 1) {
      throw new IllegalStateException(rows + " records with the id " + as.id().apply(record));
    }
    return rows == 1;
  }

  @Override
  public boolean remove(String id) {
    find(id).ifPresent(record -> touched.by(of, as.application().apply(record)));
    return mapper.remove(table, id) == 1;
  }
}
