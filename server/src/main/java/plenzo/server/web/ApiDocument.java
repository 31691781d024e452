package plenzo.server.web;

import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverters;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Content;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.responses.ApiResponse;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import plenzo.api.Drifts;
import plenzo.api.Evidences;
import plenzo.api.Failure;
import plenzo.api.Manuals;
import plenzo.api.Packages;
import plenzo.api.Page;
import plenzo.api.People;
import plenzo.api.Promotions;
import plenzo.api.Releases;
import plenzo.api.Rollbacks;
import plenzo.api.Runs;
import plenzo.api.Stages;
import plenzo.api.Standings;
import plenzo.api.Versions;
import plenzo.api.Wave;

/** The OpenAPI document: what the records say about null is what it says is required. */
@Configuration
@SuppressWarnings({"rawtypes", "unchecked"})
class ApiDocument {
  private static final List<Class<?>> SUBJECTS =
      List.of(
          People.class,
          Manuals.class,
          Evidences.class,
          plenzo.api.Rehearsals.class,
          plenzo.api.Deputies.class,
          plenzo.api.Sheets.class,
          plenzo.api.Calendars.class,
          plenzo.api.Tellings.class,
          plenzo.api.Proposals.class,
          Packages.class,
          Stages.class,
          plenzo.api.Records.class,
          plenzo.api.Retentions.class,
          plenzo.api.Copies.class,
          Versions.class,
          Promotions.class,
          Releases.class,
          Wave.class,
          Runs.class,
          Rollbacks.class,
          Drifts.class,
          Standings.class);

  private static final String PAGE = Page.class.getSimpleName();

  @Bean
  OpenAPI document() {
    return new OpenAPI()
        .info(
            new Info()
                .title("Plenzo")
                .version("1")
                .description(
                    "Errors are problem details (RFC 9457). Times are RFC 3339 in UTC, durations seconds, sizes bytes. Whatever changes something carries an Idempotency-Key."));
  }

  @Bean
  OpenApiCustomizer required() {
    Map<String, Class<?>> records = new HashMap<>();
    SUBJECTS.forEach(
        s -> List.of(s.getDeclaredClasses()).forEach(c -> records.put(c.getSimpleName(), c)));
    records.put("Failure", Failure.class);
    return api -> {
      api.setServers(List.of());
      api.getComponents()
          .addSchemas(
              "Failure",
              ModelConverters.getInstance(true)
                  .resolveAsResolvedSchema(new AnnotatedType(Failure.class))
                  .schema);
      ApiResponse failed =
          new ApiResponse()
              .description("A problem detail")
              .content(
                  new Content()
                      .addMediaType(
                          "application/problem+json",
                          new MediaType()
                              .schema(new Schema().$ref("#/components/schemas/Failure"))));
      api.getPaths()
          .values()
          .forEach(
              path ->
                  path.readOperations()
                      .forEach(o -> o.getResponses().addApiResponse("default", failed)));
      for (Map.Entry<String, Schema> e : api.getComponents().getSchemas().entrySet()) {
        // a page of what is named after the record of pages
        Class<?> record =
            records.getOrDefault(e.getKey(), e.getKey().startsWith(PAGE) ? Page.class : null);
        if (record != null) {
          List<String> names = new ArrayList<>();
          for (RecordComponent c : record.getRecordComponents()) {
            if (!c.getAnnotatedType().isAnnotationPresent(Nullable.class)) {
              names.add(c.getName());
            }
          }
          e.getValue().setRequired(names);
        }
      }
    };
  }
}
