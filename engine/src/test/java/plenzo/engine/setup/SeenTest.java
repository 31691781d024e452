package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Release;
import plenzo.core.source.Repository;
import plenzo.core.stage.Binding;
import plenzo.core.version.SemVer;
import plenzo.engine.binding.Bindings;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.sealing.Drafts;

/**
 * An edit is of what was looked at; of what is another by now it is refused and changes nothing.
 */
class SeenTest extends KitTest {

  private static void refused(ThrowingCallable edit) {
    assertThatThrownBy(edit)
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.code()).isEqualTo("CHANGED");
              assertThat(p.reason()).isEqualTo(Problem.Reason.CHANGED);
            });
  }

  @Test
  void aDraft() {
    kit.adopt();
    Drafts drafts = kit.engine().drafts();
    String id = drafts.start(kit.ines, "fares", null).id();
    int looked = drafts.get(kit.ines, id).revision();
    List<Adoption.Pick> rule =
        List.of(new Adoption.Pick(ComponentKey.of(RULE), null, /* generatedKeyConfirmed= */ true));

    drafts.seen(looked).add(kit.ines, id, DEVELOPMENT, rule);

    Drafts late = drafts.seen(looked);
    refused(() -> late.add(kit.ines, id, DEVELOPMENT, rule));
    refused(() -> late.drop(kit.ines, id, ComponentKey.of(RULE)));
    refused(() -> late.removals(kit.ines, id, List.of()));
    refused(() -> late.check(kit.ines, id));
    refused(
        () ->
            late.seal(
                kit.ines,
                id,
                new Drafts.Statement(new SemVer("1.1.0"), "Late", "", null, List.of())));
    refused(() -> late.discard(kit.ines, id));
    assertThat(drafts.get(kit.ines, id).picks()).hasSize(1);
    drafts.seen(drafts.get(kit.ines, id).revision()).discard(kit.ines, id);
  }

  @Test
  void aRelease() {
    kit.adopt();
    List<Release.Member> fares = List.of(new Release.Member("fares", new SemVer("1.0.0")));
    var releases = kit.engine().releases();
    int looked = releases.save(kit.ines, "summer", "Summer", fares, null).revision();
    releases.save(kit.ines, "summer", "High summer", fares, looked);

    refused(() -> releases.save(kit.ines, "summer", "Late summer", fares, looked));
    refused(() -> releases.save(kit.ines, "autumn", "Of one that was there", fares, 3));

    assertThat(releases.get(kit.ines, "summer").title()).isEqualTo("High summer");
    assertThatThrownBy(() -> releases.get(kit.ines, "autumn")).isInstanceOf(Problem.class);
  }

  @Test
  void aRepository() {
    Repository at = new Repository("/srv/fares", "", "main", "", Repository.Follow.NOTHING, "v");
    var repositories = kit.engine().repositories();
    int looked = kit.engine().applications().get(kit.ines, "fares").revision();
    repositories.name(kit.ines, "fares", at, null, looked);

    refused(() -> repositories.name(kit.ines, "fares", null, null, looked));

    assertThat(kit.engine().applications().get(kit.ines, "fares").repository()).isEqualTo(at);
    assertThatCode(() -> repositories.name(kit.ines, "fares", null, null, null))
        .doesNotThrowAnyException();
  }

  @Test
  void aBinding() {
    kit.adopt();
    kit.hosts.at("development").put(RULE, EngineKit.rule("2", "terminal"));
    kit.seal("1.1.0");
    Bindings bindings = kit.engine().bindings();
    Bindings.Place place = new Bindings.Place("fares", SITE.stage(), "", "terminal");
    int first = bindings.bind(kit.ines, place, "https://north.example", false, null, 0).revision();
    Binding second = bindings.bind(kit.ines, place, "https://north-2.example", false, null, first);

    refused(() -> bindings.clear(kit.ines, place, first));

    assertThat(kit.<Binding>read(kept -> kept.bindings().find(second.id()).orElseThrow()).value())
        .isEqualTo("https://north-2.example");
    bindings.clear(kit.ines, place, second.revision());
  }
}
