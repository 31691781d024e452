package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.TableStructure;

/** What people read of what a switch writes. */
class WrittenTest {
  private static final TableName BAND = new TableName("fares", "band");

  private static TableStructure table(String type) {
    List<Column> columns = new ArrayList<>();
    columns.add(new Column("code", "text", true, null, null, null, null, null));
    columns.add(new Column("price", type, false, null, null, null, null, null));
    return new TableStructure(columns, List.of(), List.of(), null);
  }

  private static String written(String type, long rows, Map<String, Conversion> by) {
    TablesDelta.RowsDelta some =
        rows == 0
            ? null
            : new TablesDelta.RowsDelta(
                new Header(List.of("code"), List.of("text"), 1),
                java.util.Set.of(),
                List.of(),
                0,
                0,
                rows,
                () -> {
                  throw new AssertionError("nothing is read");
                });
    TablesDelta.TableDelta t =
        TablesDelta.TableDelta.of(BAND, table("numeric(6,2)"), table(type), some).converting(by);
    return new TablesDelta(List.of(t), List.of(), List.of()).written();
  }

  @Test
  void structuresAndRowsAreSaidWhereThereAreAny() {
    assertThat(written("numeric(6,2)", 3, Map.of())).isEqualTo("3 rows");
    assertThat(written("numeric(8,2)", 1, Map.of())).isEqualTo("1 table structure and 1 row");
    assertThat(written("numeric(8,2)", 0, Map.of())).isEqualTo("1 table structure");
    assertThat(written("numeric(6,2)", 0, Map.of())).isEqualTo("0 rows");
  }

  /** It said "0 rows" of a switch that writes every row anew. */
  @Test
  void valuesThatTheDatabaseWorksOutAreSaid() {
    Conversion cents = Conversion.of("round(price * 100)::integer", table("numeric(6,2)"));

    assertThat(written("integer", 0, Map.of("price", cents)))
        .isEqualTo("1 table structure and the values of 1 column for every row");
  }
}
