package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.TableName;

/** Which columns hold numbers of objects that stand in no table. */
class LargeObjectsTest {
  private static TableStructure table(String... types) {
    List<Column> columns = new java.util.ArrayList<>();
    for (int n = 0; n < types.length; n++) {
      columns.add(new Column("c" + n, types[n], false, null, null, null, null, null));
    }
    return new TableStructure(columns, List.of(), List.of(), null);
  }

  @ParameterizedTest
  @CsvSource({
    "oid, true",
    "lo, true",
    "public.lo, true",
    "oidvector, false",
    "'oid[]', false",
    "bigint, false",
    "public.halo, false",
    "fares.lot, false"
  })
  void byTheirType(String type, boolean numbers) {
    assertThat(LargeObjects.columns(table(type)).isEmpty()).isEqualTo(!numbers);
  }

  @Test
  void theyAreNamedInTheirNumber() {
    assertThat(LargeObjects.said(LargeObjects.columns(table("oid", "text", "lo"))))
        .isEqualTo(
            "its columns c0, c2 hold numbers that may be those of large objects: the numbers are carried, the objects are not");
    assertThat(LargeObjects.said(List.of())).isEmpty();
  }

  @Test
  void whoseNumbersRowsHoldIsSaidAsItWasCounted() {
    TableName photo = TableName.of("fares.photo");

    assertThat(LargeObjects.counted(photo, List.of("picture"), 0))
        .isEqualTo(
            "No row of fares.photo at the source holds in picture the number of a large object that is there.");
    assertThat(LargeObjects.counted(photo, List.of("picture"), 1))
        .isEqualTo(
            "1 row of fares.photo at the source holds in picture the number of a large object: the numbers are carried, the objects are not.");
    assertThat(LargeObjects.counted(photo, List.of("picture", "plan"), 2))
        .isEqualTo(
            "2 rows of fares.photo at the source hold in picture or plan the number of a large object: the numbers are carried, the objects are not.");
  }
}
