package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import plenzo.connectors.database.sql.ObjectSql;
import plenzo.core.component.ComponentKey;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;

/** What is said to give a role its rights and to take them from it. */
class GrantedSqlTest {
  private static SchemaObject grant(String key, String about, Map<String, String> rights) {
    return new SchemaObject(
        ComponentKey.of("grant/" + key),
        Sort.GRANT,
        List.of(about),
        new TreeMap<>(rights),
        "",
        null,
        List.of(),
        List.of());
  }

  private static SchemaObject table(Map<String, String> rights) {
    return grant("fares.band.Night Shift", "table", rights);
  }

  @Test
  void whatComesIsExactlyThatWhateverTheRoleHad() {
    assertThat(ObjectSql.make(table(Map.of("SELECT", "may be passed on", "UPDATE (a (b))", "yes"))))
        .containsExactly(
            "REVOKE ALL PRIVILEGES ON TABLE \"fares\".\"band\" FROM \"Night Shift\"",
            "GRANT SELECT ON TABLE \"fares\".\"band\" TO \"Night Shift\" WITH GRANT OPTION",
            "GRANT UPDATE (\"a (b)\") ON TABLE \"fares\".\"band\" TO \"Night Shift\"");
  }

  @Test
  void whatChangesIsSaidAndNothingElse() {
    assertThat(
            ObjectSql.alter(
                table(Map.of("DELETE", "yes", "INSERT", "may be passed on", "SELECT", "yes")),
                table(Map.of("INSERT", "yes", "SELECT", "yes", "UPDATE", "yes"))))
        .containsExactly(
            "REVOKE DELETE ON TABLE \"fares\".\"band\" FROM \"Night Shift\"",
            "REVOKE GRANT OPTION FOR INSERT ON TABLE \"fares\".\"band\" FROM \"Night Shift\"",
            "GRANT UPDATE ON TABLE \"fares\".\"band\" TO \"Night Shift\"");
  }

  @Test
  void everybodyMayCallARoutineUntilThatIsTakenAway() {
    SchemaObject taken =
        grant("fares.\"half(integer, text)\".PUBLIC", "routine", Map.of("EXECUTE", "no"));

    assertThat(ObjectSql.make(taken))
        .containsExactly("REVOKE EXECUTE ON ROUTINE \"fares\".\"half\"(integer, text) FROM PUBLIC");
    assertThat(ObjectSql.drop(taken))
        .isEqualTo("GRANT EXECUTE ON ROUTINE \"fares\".\"half\"(integer, text) TO PUBLIC");
  }

  @Test
  void everybodyMayUseATypeUntilThatIsTakenAway() {
    SchemaObject taken = grant("fares.\"the kind\".PUBLIC", "type", Map.of("USAGE", "no"));

    assertThat(ObjectSql.make(taken))
        .containsExactly("REVOKE USAGE ON TYPE \"fares\".\"the kind\" FROM PUBLIC");
    assertThat(ObjectSql.drop(taken))
        .isEqualTo("GRANT USAGE ON TYPE \"fares\".\"the kind\" TO PUBLIC");
    assertThat(ObjectSql.make(grant("fares.kind.desk", "type", Map.of("USAGE", "yes"))))
        .containsExactly(
            "REVOKE ALL PRIVILEGES ON TYPE \"fares\".\"kind\" FROM \"desk\"",
            "GRANT USAGE ON TYPE \"fares\".\"kind\" TO \"desk\"");
  }

  @Test
  void ofASequenceAndAView() {
    assertThat(ObjectSql.drop(grant("fares.s.desk", "sequence", Map.of("USAGE", "yes"))))
        .isEqualTo("REVOKE ALL PRIVILEGES ON SEQUENCE \"fares\".\"s\" FROM \"desk\"");
    assertThat(ObjectSql.drop(grant("fares.v.desk", "view", Map.of("SELECT", "yes"))))
        .isEqualTo("REVOKE ALL PRIVILEGES ON TABLE \"fares\".\"v\" FROM \"desk\"");
  }
}
