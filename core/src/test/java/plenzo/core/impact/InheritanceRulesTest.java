package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** Each rule at the smallest case that violates it, and one just short of it. */
class InheritanceRulesTest {
  private static final TableName VESSEL = TableName.of("fares.vessel");
  private static final TableName FERRY = TableName.of("fares.ferry");

  private static TableStructure table(String type, TableName... parents) {
    return new TableStructure(
            List.of(new Column("code", type, false, null, null, null, null, null)),
            List.of(),
            List.of(),
            null)
        .inheriting(List.of(parents));
  }

  private static TablesDelta.TableDelta delta(
      TableName name, @Nullable TableStructure was, @Nullable TableStructure is) {
    return TablesDelta.TableDelta.of(name, was, is, null);
  }

  private static List<String> found(
      Map<TableName, TableStructure> there, TablesDelta.TableDelta... changes) {
    return Rules.run(
            InheritanceRules.ALL,
            new ImpactCase(
                List.of(),
                Map.of(),
                new TablesDelta(List.of(changes), List.of()),
                new HashMap<>(there),
                Map.of(),
                List.of(),
                (component, difference, limit, row) -> {},
                question -> {
                  throw new IllegalStateException("Nothing is asked");
                }))
        .stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place() + " " + f.sentence())
        .toList();
  }

  @Test
  void whatItInheritsFromMustBeThereOrCome() {
    assertThat(found(Map.of(), delta(FERRY, null, table("text", VESSEL))))
        .containsExactly(
            "BLOCKER needed-missing table/fares.ferry It inherits from fares.vessel, which is not at the site and does not come.");
    assertThat(
            found(
                Map.of(),
                delta(VESSEL, null, table("text")),
                delta(FERRY, null, table("text", VESSEL))))
        .isEmpty();
  }

  @Test
  void oneThatOthersInheritFromDoesNotGo() {
    TableStructure ferry = table("text", VESSEL);
    Map<TableName, TableStructure> there = Map.of(VESSEL, table("text"), FERRY, ferry);
    assertThat(found(there, delta(VESSEL, table("text"), null)))
        .containsExactly(
            "BLOCKER dependent-breaks table/fares.vessel fares.ferry at the site inherits from it, and it goes.");
    assertThat(found(there, delta(VESSEL, table("text"), null), delta(FERRY, ferry, null)))
        .as("they go together")
        .isEmpty();
  }

  @Test
  void whatIsHandedDownMustBeThereSo() {
    Map<TableName, TableStructure> there = Map.of(VESSEL, table("text"));
    assertThat(found(there, delta(FERRY, null, table("integer", VESSEL))))
        .containsExactly(
            "BLOCKER inherited-otherwise table/fares.ferry#column/code It inherits from fares.vessel, whose column code is text, and would have integer.");
    assertThat(found(there, delta(FERRY, null, table("text", VESSEL)))).isEmpty();
    assertThat(
            found(
                there,
                delta(
                    FERRY,
                    null,
                    new TableStructure(List.of(), List.of(), List.of(), null)
                        .inheriting(List.of(VESSEL)))))
        .singleElement()
        .asString()
        .endsWith("is text, and would not have it.");
  }
}
