package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.TableName;

/** What values are worked out from. */
class ConversionTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName RATE = TableName.of("fares.rate");

  private static TableStructure table(String... namesAndTypes) {
    List<Column> columns = new java.util.ArrayList<>();
    for (int n = 0; n < namesAndTypes.length; n += 2) {
      columns.add(
          new Column(namesAndTypes[n], namesAndTypes[n + 1], false, null, null, null, null, null));
    }
    return new TableStructure(columns, List.of(), List.of(), null);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "round(price * 100)::integer",
        "first || ' ; -- ' || last",
        "(SELECT z.note FROM fares.zone z WHERE z.code = band.zone)",
        "tags[1]",
        "\"Odd ; name\"",
        "CASE WHEN kind = 'it''s' THEN 1 ELSE 2 END",
      })
  void oneExpressionIsTaken(String expression) {
    assertThat(Conversion.checked("  " + expression + " ")).isEqualTo(expression);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "price; DROP TABLE fares.band | cannot hold ;",
        "price) , (1 | a ) closes nothing",
        "price -- then | cannot hold --",
        "price /* then | cannot hold /*",
        "(price | a ( is not closed",
        "(tags] | a ] closes nothing",
        "'open | a ' is not closed",
        "\"open | a \" is not closed",
        "$$text$$ | cannot hold $$",
        "$a$text$a$ | cannot hold $a$",
        "E'\\\'' ; DROP TABLE x; SELECT ' | cannot hold \\",
        "` ` | it is empty",
      })
  void whatCouldBeMoreIsRefused(String expression, String why) {
    assertThatThrownBy(() -> Conversion.checked(expression))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(why);
  }

  @Test
  void isBounded() {
    assertThat(Conversion.checked("x".repeat(Conversion.LONGEST))).hasSize(2_000);
    assertThatThrownBy(() -> Conversion.checked("x".repeat(Conversion.LONGEST + 1)))
        .hasMessageContaining("more than 2000 characters");
  }

  @Test
  void knowsWhatItReadsAndOfWhichType() {
    Conversion c =
        Conversion.of(
            "price * 100 + band.vat",
            table("price", "numeric(6,2)", "vat", "numeric", "note", "text"));

    assertThat(c.reads()).isEqualTo(Map.of("price", "numeric(6,2)", "vat", "numeric"));
    assertThat(c.isFor(table("price", "numeric(6,2)", "vat", "numeric"))).isTrue();
    assertThat(c.missing(table("price", "integer")))
        .isEqualTo("price as numeric(6,2) (here integer), vat as numeric");
  }

  @Test
  void saysWhetherItAsksElsewhere() {
    assertThat(Conversion.of("(SELECT 1)", table()).asksElsewhere()).isTrue();
    assertThat(Conversion.of("(select 1)", table()).asksElsewhere()).isTrue();
    assertThat(Conversion.of("(Select 1)", table()).asksElsewhere()).isTrue();
    assertThat(Conversion.of("selected || 'select'", table("selected", "text")).asksElsewhere())
        .isFalse();
  }

  @Test
  void followsNames() {
    Conversions all =
        new Conversions(
            Map.of(BAND, Map.of("cents", Conversion.of("price * 100", table("price", "numeric")))));
    Renaming names =
        new Renaming(Map.of(BAND, RATE), Map.of(RATE, Map.of("price", "amount", "cents", "minor")));

    assertThat(all.renamed(names).of(RATE).get("minor"))
        .isEqualTo(new Conversion("amount * 100", Map.of("amount", "numeric")));
    assertThat(all.reading(names).of(RATE))
        .as("what is worked out keeps its name")
        .isEqualTo(Map.of("cents", new Conversion("amount * 100", Map.of("amount", "numeric"))));
    assertThat(all.renamed(Renaming.NONE)).isEqualTo(all);
    assertThat(all.renamed(names).of(BAND)).isEmpty();
  }

  @Test
  void ofOneColumnTheLaterIsTaken() {
    Conversion early = Conversion.of("price", table("price", "numeric"));
    Conversion late = Conversion.of("price + 1", table("price", "numeric"));
    Conversions first = new Conversions(Map.of(BAND, Map.of("a", early, "b", early)));

    Conversions both = first.and(new Conversions(Map.of(BAND, Map.of("b", late))));

    assertThat(both.of(BAND)).isEqualTo(Map.of("a", early, "b", late));
    assertThat(Conversions.NONE.and(Conversions.NONE).isEmpty()).isTrue();
  }

  @Test
  void isReadAsItWasWritten() {
    Map<String, Conversion> columns =
        Map.of("cents", Conversion.of("price * 100", table("price", "numeric(6,2)")));

    assertThat(Conversions.of(Conversions.toJson(columns))).isEqualTo(columns);
    assertThatThrownBy(
            () ->
                Conversions.of(
                    plenzo.core.json.Json.parse(
                        "{\"cents\":{\"expression\":\"1; DROP\",\"reads\":{}}}")))
        .hasMessageContaining("cannot hold ;");
  }
}
