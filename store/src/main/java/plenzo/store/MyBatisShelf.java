package plenzo.store;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.ToIntFunction;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.Shelf;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** One table of records: its columns are taken from the record by a description. */
final class MyBatisShelf<T> implements Shelf<T> {
  private static final JsonMapper JSON =
      JsonMapper.builder().enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  /** Which parts of a record are columns. */
  record Description<T>(
      Class<T> type,
      Function<T, String> id,
      ToIntFunction<T> revision,
      Function<T, @Nullable String> state,
      Function<T, @Nullable String> application,
      Function<T, @Nullable String> stage,
      Function<T, @Nullable String> site,
      List<UnaryOperator<ObjectNode>> steps) {
    static <T> Description<T> of(Class<T> type, Function<T, String> id, ToIntFunction<T> revision) {
      return new Description<>(
          type, id, revision, x -> null, x -> null, x -> null, x -> null, List.of());
    }

    Description<T> state(Function<T, @Nullable String> state) {
      return new Description<>(type, id, revision, state, application, stage, site, steps);
    }

    Description<T> application(Function<T, @Nullable String> application) {
      return new Description<>(type, id, revision, state, application, stage, site, steps);
    }

    Description<T> at(Function<T, @Nullable String> stage, Function<T, @Nullable String> site) {
      return new Description<>(type, id, revision, state, application, stage, site, steps);
    }

    /** How records of earlier formats become present ones; see {@link Upgrades}. */
    Description<T> upgraded(List<UnaryOperator<ObjectNode>> by) {
      return new Description<>(type, id, revision, state, application, stage, site, by);
    }

    /** Whether the record itself holds its revision; what never changes has none. */
    boolean revised() {
      return Arrays.stream(type.getRecordComponents())
          .anyMatch(c -> c.getName().equals("revision"));
    }

    int format() {
      return steps.size() + 1;
    }
  }

  /** Which format a stored record has; it is missing in format 1. */
  private static final String FORMAT = "format";

  private final BodyMapper mapper;
  private final Description<T> as;

  MyBatisShelf(BodyMapper mapper, Description<T> as) {
    this.mapper = mapper;
    this.as = as;
  }

  private BodyRow row(T record, int revision) {
    ObjectNode body = JSON.valueToTree(record);
    body.put(FORMAT, as.format());
    return new BodyRow(
        as.id().apply(record),
        revision,
        as.state().apply(record),
        as.application().apply(record),
        as.stage().apply(record),
        as.site().apply(record),
        Instant.EPOCH.atOffset(ZoneOffset.UTC),
        JSON.writeValueAsString(body));
  }

  private T record(BodyRow row) {
    ObjectNode body = (ObjectNode) JSON.readTree(row.body());
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
    BodyRow row = mapper.find(id);
    return row == null ? Optional.empty() : Optional.of(record(row));
  }

  @Override
  public List<T> list(Filter filter) {
    return mapper.list(filter).stream().map(this::record).toList();
  }

  @Override
  public void insert(T record) {
    mapper.insert(row(record, 1));
  }

  @Override
  public boolean update(T record) {
    int rows = mapper.update(row(record, as.revision().applyAsInt(record)));
    if (rows > 1) {
      throw new IllegalStateException(rows + " records with the id " + as.id().apply(record));
    }
    return rows == 1;
  }

  @Override
  public boolean remove(String id) {
    return mapper.remove(id) == 1;
  }
}
