'use client';
import { Box, Flex, Grid, Heading, Image, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import type { ProjectCard } from '@/core/project/models';
import { api } from '../api';
import { Card, Field, PrimaryButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';
import { Time } from '../time';

export function ProjectList({ projects }: { projects: ProjectCard[] }) {
  return (
    <Box as="main" maxW="1120px" mx="auto" px={{ base: '4', md: '6' }} py="8">
      <Heading as="h1" fontSize="3xl" mb="6">
        Projects
      </Heading>
      <Grid templateColumns={{ base: '1fr', sm: 'repeat(auto-fill, minmax(300px, 1fr))' }} gap="5" alignItems="stretch">
        {projects.map((project) => (
          <NextLink key={project.id} href={`/projects/${project.id}/review`}>
            <Card overflow="hidden" h="full" _hover={{ borderColor: 'softInk' }}>
              <Box bg="felt" h="180px">
                {project.preview ? (
                  <Image src={project.preview} alt="" w="full" h="full" objectFit="cover" />
                ) : (
                  <Flex h="full" align="center" justify="center" color="softInk">
                    No model yet
                  </Flex>
                )}
              </Box>
              <Box p="4">
                <Heading as="h2" fontSize="lg">
                  {project.name}
                </Heading>
                <Text color="softInk" fontSize="sm">
                  {project.place ? `${project.place} · ` : null}
                  {project.models} {project.models === 1 ? 'model' : 'models'}
                  {project.newest ? (
                    <>
                      {' · published '}
                      <Time at={project.newest} show="day" />
                    </>
                  ) : null}
                </Text>
              </Box>
            </Card>
          </NextLink>
        ))}
        <NewProject />
      </Grid>
    </Box>
  );
}

function NewProject() {
  const { formProps, field, trouble, isSubmitting } = useCheckedForm<{ name: string; place: string }>(
    async () => (await import('@/core/forms/project-schema')).projectSchema,
    {},
    async (project) => {
      const { id } = await api.post<{ id: string }>('/api/projects', project);
      location.assign(`/projects/${id}/prepare`);
    },
  );
  return (
    <Box borderWidth="1.5px" borderStyle="dashed" borderColor="seam" borderRadius="card" p="4">
      <form {...formProps}>
        <Stack gap="3">
          <Heading as="h2" fontSize="lg">
            New project
          </Heading>
          <Field label="Name" maxLength={120} {...field('name')} />
          <Field label="Place" maxLength={120} {...field('place')} />
          <Trouble text={trouble} />
          <PrimaryButton type="submit" alignSelf="start" loading={isSubmitting}>
            Add project
          </PrimaryButton>
        </Stack>
      </form>
    </Box>
  );
}
