package plenzo.engine.hosting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.ItemsLooking.Work.Item;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/**
 * A host is shared: each reader sees the work of their applications, and how much else there is.
 */
class HostWorkTest extends KitTest {
  private SiteKey site;

  @BeforeEach
  void work() {
    site = EngineKit.SITE;
    kit.host().running.add(new Item("1", "counts quotes", "marit", "rule/fares.ceiling"));
    kit.host().running.add(new Item("2", "boards", "lars", "rule/boarding.lane-choice"));
    kit.host().running.add(new Item("3", "tidies up", "nobody", ""));
    kit.host().people = 4;
  }

  private static Person looker(String stage, String application) {
    return Person.invited("edda", "Edda", "", false)
        .withGrants(List.of(new Person.Grant(Right.LOOK, stage, application)));
  }

  private Hosts.HostWork seenBy(Person by) {
    return kit.engine().hosts().work(by, site);
  }

  @Test
  void showsEverythingToWhoeverLooksAtEverything() {
    assertThat(seenBy(kit.ines).running()).hasSize(3);
    assertThat(seenBy(kit.ines).others()).isZero();
  }

  @Test
  void showsTheWorkOfTheirApplicationAndCountsTheRest() {
    Hosts.HostWork seen = seenBy(looker(site.stage(), "fares"));

    assertThat(seen.running()).extracting(Item::id).containsExactly("1");
    assertThat(seen.others()).isEqualTo(2);
    assertThat(seen.people()).isEqualTo(4);
    assertThat(seen.toString()).doesNotContain("lars").doesNotContain("boarding");
  }

  @Test
  void isForWhoeverLooksThereAndNobodyElse() {
    assertThatThrownBy(() -> seenBy(looker("development", "fares"))).isInstanceOf(Problem.class);
  }

  /**
   * The answer shows the work, so that whoever may not see it is refused before anything is done.
   */
  @Test
  void changesNothingForWhoeverMayNotSeeTheAnswer() {
    Person operator =
        Person.invited("otto", "Otto", "", false)
            .withGrants(List.of(new Person.Grant(Right.OPERATE, Person.EVERY, Person.EVERY)));

    assertThatThrownBy(() -> kit.engine().hosts().maintenance(operator, site, true, "Night"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("look");
    assertThat(kit.host().maintenance).isFalse();
  }
}
