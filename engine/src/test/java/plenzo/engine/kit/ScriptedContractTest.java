package plenzo.engine.kit;

import static plenzo.engine.kit.ScriptedDatabase.column;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.target.Access;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Rows;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetContract;

/** The scripted targets keep what real ones promise, so that the engine is tested on the truth. */
class ScriptedContractTest {
  private static final Access ACCESS = new Access("it", 1, "it", "account", "disable", "");

  @Nested
  class Database extends TargetContract {
    private static final Header COLUMNS =
        new Header(List.of("code", "amount"), List.of("text", "numeric(6,2)"), 1);
    private final ScriptedDatabase connector = new ScriptedDatabase();

    @BeforeEach
    void table() {
      connector
          .at("it")
          .table("fares.band", column("code", "text"), column("amount", "numeric(6,2)"));
      write(OLD);
    }

    @Override
    protected Connector connector() {
      return connector;
    }

    @Override
    protected Access looking() {
      return ACCESS;
    }

    @Override
    protected Access changing() {
      return ACCESS;
    }

    @Override
    protected Delta to(String value) {
      TableName band = TableName.of("fares.band");
      TablesDelta.RowChange change =
          new TablesDelta.RowChange(
              Difference.CHANGED,
              Row.of(COLUMNS, List.of("PEAK", held())),
              Row.of(COLUMNS, List.of("PEAK", value)));
      var structure = connector.at("it").structure("fares.band");
      return new TablesDelta(
          List.of(
              TablesDelta.TableDelta.of(
                  band, structure, structure, Rows.of(COLUMNS, COLUMNS.names(), List.of(change)))),
          List.of());
    }

    @Override
    protected String held() {
      return Objects.requireNonNull(connector.at("it").value("fares.band", "PEAK", "amount"));
    }

    @Override
    protected void write(String value) {
      connector.at("it").row("fares.band", Map.of("code", "PEAK", "amount", value));
    }
  }

  @Nested
  class Host extends TargetContract {
    private static final String KEY = "rule/fares.peak";
    private final ScriptedItems connector = new ScriptedItems();
    private final Map<Digest, String> contents = new HashMap<>();

    @BeforeEach
    void define() {
      write(OLD);
    }

    private static String json(String value) {
      return Json.object("amount", value).canonical();
    }

    @Override
    protected Connector connector() {
      return connector;
    }

    @Override
    protected Access looking() {
      return ACCESS;
    }

    @Override
    protected Access changing() {
      return ACCESS;
    }

    @Override
    protected Delta to(String value) {
      ComponentKey key = ComponentKey.of(KEY);
      Digest next = ContentDigest.of(key.kind(), json(value).getBytes(StandardCharsets.UTF_8));
      contents.put(next, json(value));
      String[] seal = {null};
      Digest[] present = {null};
      try (var look = connector.look(ACCESS)) {
        look.inventory(
            "fares",
            seen -> {
              seal[0] = seen.seal();
              present[0] = seen.content();
            });
      }
      return new ItemsDelta(
          List.of(
              new ItemsDelta.Change(key, Difference.CHANGED, present[0], seal[0], next, 1, false)),
          Map.of(),
          Map.of(),
          (kind, digest) ->
              new ByteArrayInputStream(
                  Objects.requireNonNull(contents.get(digest)).getBytes(StandardCharsets.UTF_8)));
    }

    @Override
    protected String held() {
      return ((Json.Obj) Json.parse(String.valueOf(connector.at("it").text(KEY)))).text("amount");
    }

    @Override
    protected void write(String value) {
      connector.at("it").put(KEY, json(value));
    }
  }
}
