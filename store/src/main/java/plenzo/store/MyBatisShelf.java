package plenzo.store;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.Shelf;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** One table of records: its columns are taken from the record by a description. */
final class MyBatisShelf<T> implements Shelf<T> {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  /** Which parts of a record are columns. */
  record Description<T>(
      Class<T> type,
      Function<T, String> id,
      ToIntFunction<T> revision,
      Function<T, @Nullable String> state,
      Function<T, @Nullable String> application,
      Function<T, @Nullable String> stage,
      Function<T, @Nullable String> site) {
    static <T> Description<T> of(Class<T> type, Function<T, String> id, ToIntFunction<T> revision) {
      return new Description<>(type, id, revision, x -> null, x -> null, x -> null, x -> null);
    }

    Description<T> state(Function<T, @Nullable String> state) {
      return new Description<>(type, id, revision, state, application, stage, site);
    }

    Description<T> application(Function<T, @Nullable String> application) {
      return new Description<>(type, id, revision, state, application, stage, site);
    }

    Description<T> at(Function<T, @Nullable String> stage, Function<T, @Nullable String> site) {
      return new Description<>(type, id, revision, state, application, stage, site);
    }
  }

  private final BodyMapper mapper;
  private final Description<T> as;

  MyBatisShelf(BodyMapper mapper, Description<T> as) {
    this.mapper = mapper;
    this.as = as;
  }

  private BodyRow row(T record, int revision) {
    return new BodyRow(
        as.id().apply(record),
        revision,
        as.state().apply(record),
        as.application().apply(record),
        as.stage().apply(record),
        as.site().apply(record),
        Instant.EPOCH.atOffset(ZoneOffset.UTC),
        JSON.writeValueAsString(record));
  }

  private T record(BodyRow row) {
    ObjectNode body = (ObjectNode) JSON.readTree(row.body());
    body.put("revision", row.revision());
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
