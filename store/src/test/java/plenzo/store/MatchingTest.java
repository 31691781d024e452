package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.stage.SiteKey;

/**
 * Which lists of records are asked for how; that each reads its index alone is for {@code
 * SchemaTest}.
 */
class MatchingTest {
  private static final String LIMIT = "ordinal DESC LIMIT #{filter.limit}";

  @Test
  void allOfThemHaveNoCondition() {
    assertThat(Matching.where(Filter.all())).isEmpty();
    assertThat(Matching.order(Filter.all())).isEqualTo("ORDER BY " + LIMIT);
  }

  @Test
  void eachThingThatIsAskedIsAParameter() {
    Filter filter =
        Filter.at("fares", new SiteKey("test", "main")).in(List.of("running")).part(7, 50);

    assertThat(Matching.where(filter))
        .isEqualTo(
            "WHERE application = #{filter.application} AND stage = #{filter.stage} AND site = #{filter.site}"
                + " AND state = #{filter.states[0]} AND ordinal < #{filter.before}");
  }

  @Test
  void whatPeopleTypeStandsInNoStatement() {
    Filter filter = Filter.application("x' OR '1' = '1").stage("y'").in(List.of("z'", "a'"));

    assertThat(Matching.where(filter) + Matching.order(filter)).doesNotContain("'");
  }

  @Test
  void oneOfSeveralStates() {
    assertThat(Matching.where(Filter.state("done", "failed")))
        .isEqualTo("WHERE state IN (#{filter.states[0]}, #{filter.states[1]})");
    assertThat(Matching.order(Filter.state("done", "failed"))).isEqualTo("ORDER BY " + LIMIT);
  }

  @Test
  void theOrderBeginsWithTheColumnsOfAnIndex() {
    assertThat(Matching.order(Filter.at("fares", new SiteKey("test", "main"))))
        .isEqualTo("ORDER BY application, stage, " + LIMIT);
    assertThat(Matching.order(Filter.application("fares").in(List.of("done"))))
        .isEqualTo("ORDER BY application, " + LIMIT);
    assertThat(Matching.order(Filter.at(new SiteKey("test", "main"))))
        .isEqualTo("ORDER BY stage, " + LIMIT);
    assertThat(Matching.order(Filter.state("done"))).isEqualTo("ORDER BY state, " + LIMIT);
  }
}
