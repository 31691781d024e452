package plenzo.connectors.git;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.eclipse.jgit.api.Git;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.item.ItemSeen;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.source.Repository;
import plenzo.core.target.Looking;
import plenzo.core.target.TablesLooking;

/** Views and the like as documents of a commit. */
class SchemaDocumentsTest {
  private static final SchemaObject VIEW =
      new SchemaObject(
          ComponentKey.of("view/fares.v"),
          Sort.VIEW,
          List.of("code text"),
          new TreeMap<>(),
          "SELECT 1",
          null,
          List.of(),
          List.of());

  @TempDir Path folder;

  private Git git;

  @BeforeEach
  void repository() throws Exception {
    git = Git.init().setDirectory(folder.resolve("work").toFile()).setInitialBranch("trunk").call();
  }

  @AfterEach
  void close() {
    git.close();
  }

  private void file(String name, String text) throws Exception {
    Path path = folder.resolve("work").resolve(name);
    Files.createDirectories(path.getParent());
    Files.writeString(path, text);
  }

  private Map<Kind.Holder, Looking> committed() throws Exception {
    git.add().addFilepattern(".").call();
    String commit =
        git.commit()
            .setAuthor("Ada", "ada@ferries.example")
            .setCommitter("Ada", "ada@ferries.example")
            .setMessage("x")
            .setSign(false)
            .call()
            .getName();
    return new GitCommits(folder.resolve("copies"))
        .look(
            new Repository(
                folder.resolve("work").toString(), "", "trunk", "", Repository.Follow.NOTHING, "v"),
            "",
            commit);
  }

  @Test
  void areReadBySpaceAndTheSameContentHasTheSameDigest() throws Exception {
    file("objects/view/fares.v.json", VIEW.toJson().canonical().replace(",", ",\n  "));
    file("objects/view/other.v.json", VIEW.toJson().canonical().replace("fares.v", "other.v"));
    file("objects/routine/fares.f(bigint, text).json", "{\"format\":7}");
    List<ItemSeen> seen = new ArrayList<>();

    Map<Kind.Holder, Looking> look = committed();
    try (TablesLooking tables =
        (TablesLooking) Objects.requireNonNull(look.get(Kind.Holder.DATABASE))) {
      tables.inventory("fares", seen::add);
      assertThat(tables.objects("fares")).containsExactly(VIEW);
      assertThat(tables.read(VIEW.key()).readAllBytes()).isEqualTo(VIEW.canonical());
    }

    assertThat(seen)
        .extracting(s -> s.key() + " " + (s.refusal().isEmpty() ? s.content().brief() : "refused"))
        .containsExactly(
            "routine/fares.f(bigint, text) refused", "view/fares.v " + VIEW.digest().brief());
    assertThat(seen.get(0).refusal()).contains("is not of format 1");
  }

  @Test
  void aNameThatIsNoneAndAKindThatIsElsewhereAreRefusedByThemselves() throws Exception {
    file("objects/view/fares.v.json", VIEW.toJson().canonical());
    file("objects/view/nowhere.json", VIEW.toJson().canonical());
    file("objects/rule/fares.r.json", "{}");

    Map<Kind.Holder, Looking> look = committed();
    try (TablesLooking tables =
        (TablesLooking) Objects.requireNonNull(look.get(Kind.Holder.DATABASE))) {
      assertThat(tables.objects("fares")).containsExactly(VIEW);
      assertThat(tables.refused())
          .extracting(r -> r.path())
          .containsExactlyInAnyOrder("objects/view/nowhere.json", "objects/rule/fares.r.json");
    }
  }
}
