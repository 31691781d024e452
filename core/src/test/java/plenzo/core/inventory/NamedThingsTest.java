package plenzo.core.inventory;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.TableStructure;

/** What expressions name outside the server's own schema, as the server prints them. */
class NamedThingsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "(amount > (0)::numeric)|",
        "fares.next_code()|fares.next_code",
        "(fares.\"Next Code\"(1) + 2.5)|fares.Next Code",
        "\"Odd.Schema\".\"f\"\"x\"()|Odd.Schema.f\"x",
        "'fares.no()'::text|",
        "E'it\\'s fares.no()'::text|",
        "'it''s fares.no()'::text || fares.yes()|fares.yes",
        "(code OPERATOR(fares.===) 'a'::text)|fares.===",
        "'sad'::fares.mood|fares.mood",
        "lower(code) COLLATE pg_catalog.\"C\"|",
        "CREATE INDEX i ON fares.band USING gin (code public.gin_trgm_ops)|fares.band public.gin_trgm_ops",
        "FOREIGN KEY (zone) REFERENCES fares.zone(code) ON DELETE CASCADE|fares.zone",
        "((place).city = 'x'::text)|",
        "CHECK ((amount = ANY (ARRAY[1.5, 2.25])))|",
      })
  void areFoundAndNothingElse(String expression, String names) {
    assertThat(NamedThings.in(expression))
        .extracting(NamedThings.Name::toString)
        .containsExactlyInAnyOrder(
            names == null
                ? new String[0]
                : names.contains("Next Code") ? new String[] {names} : names.split(" "));
  }

  @Test
  void eachStandsAtItsPart() {
    TableStructure t =
        new TableStructure(
            List.of(
                new Column("mood", "fares.mood", true, null, null, null, null, null),
                new Column("id", "uuid", true, "public.new_id()", null, null, null, null),
                new Column("plain", "text", true, "now()", null, null, null, null)),
            List.of(
                new Constraint(
                    "sane",
                    Constraint.Type.CHECK,
                    "CHECK (fares.sane(id))",
                    List.of(),
                    null,
                    List.of())),
            List.of(
                new Index(
                    "by_mood",
                    false,
                    "CREATE INDEX by_mood ON fares.band USING btree (fares.rank(mood))")),
            null);

    assertThat(NamedThings.of(t).byPart().keySet())
        .containsExactly("column/id", "column/mood", "constraint/sane", "index/by_mood");
    assertThat(NamedThings.of(t).byPart().get("index/by_mood"))
        .extracting(NamedThings.Name::toString)
        .containsExactly("fares.band", "fares.rank");
  }
}
